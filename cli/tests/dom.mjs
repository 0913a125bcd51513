// Just as much of a document as the scripts of the pages ask for.

export function made(name) {
  const attributes = {}, classes = new Set(), listeners = {};
  const node = {
    name, attributes, listeners, children: [], dataset: {}, style: {}, textContent: '', value: 1, tagName: name.toUpperCase(),
    clientWidth: 820, viewBox: { baseVal: { width: 1200, height: 400 } },
    classList: { toggle: (one, on) => (on ? classes.add(one) : classes.delete(one)), has: (one) => classes.has(one) },
    setAttribute(key, value) { attributes[key] = value; },
    append(...children) { this.children.push(...children); },
    appendChild(child) { this.children.push(child); return child; },
    replaceChildren(...children) { this.children = children; },
    addEventListener(kind, listener) { listeners[kind] = listener; },
    getBoundingClientRect: () => ({ left: 0, top: 0, width: 1200 }),
    querySelectorAll: (wanted) => node.children.filter((child) => child.name === wanted),
    remove() { this.removed = true; },
    closest: () => null,
    focus() {}, showModal() {}, setPointerCapture() {},
    // Of a table: its rows are its children, and each has two cells.
    get rows() { return this.children; },
    get cells() { return this.children; },
    get firstChild() { return this.children[0]; },
    insertRow() { return this.appendChild(made('tr')); },
    deleteRow() { this.children.pop(); },
    // The map lies on the screen as it is.
    getScreenCTM: () => ({ inverse: () => null }),
  };
  return node;
}

export function page(data) {
  const elements = new Map([['data', { textContent: data }]]);
  return {
    ...made('document'),
    getElementById(id) {
      if (!elements.has(id)) elements.set(id, made(id));
      return elements.get(id);
    },
    createElement: made,
    createElementNS: (_, name) => made(name),
    createTextNode: (text) => text,
    querySelectorAll: () => [],
  };
}
