'use strict';
// Draws on the map of a page: `page` is its data, with the world's origin and scale on the map.
const element = (id) => document.getElementById(id);
const MARK = 'var(--mark)', INK = 'var(--ink)';
// A velocity is drawn as the way of a quarter of a second.
const VELOCITY_SECONDS = 0.25;
// How large details are drawn, such as the heads of arrows: less where the map is enlarged.
let grain = 1;

// World to map.
const at = (x, y) => [page.origin[0] + x * page.scale[0], page.origin[1] + y * page.scale[1]];
const way = (x, y) => [x * page.scale[0], y * page.scale[1]];

function shape(parent, name, attributes) {
  const made = document.createElementNS('http://www.w3.org/2000/svg', name);
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
  parent.appendChild(made);
  return made;
}

function box(parent, [x0, y0, x1, y1], style) {
  const [ax, ay] = at(x0, y0), [bx, by] = at(x1, y1);
  const area = { x: Math.min(ax, bx), y: Math.min(ay, by), width: Math.abs(bx - ax), height: Math.abs(by - ay) };
  return shape(parent, 'rect', { ...area, ...style });
}

function arrow(parent, [x, y], [dx, dy], colour, width) {
  const length = Math.hypot(dx, dy);
  if (length < grain) return;
  const [ux, uy] = [dx / length, dy / length], [tx, ty] = [x + dx, y + dy];
  const head = Math.min(7 * grain, length);
  const [bx, by] = [tx - ux * head, ty - uy * head], side = head * 0.55;
  shape(parent, 'line', { x1: x, y1: y, x2: bx, y2: by, stroke: colour, 'stroke-width': width * grain });
  const points = [[tx, ty], [bx - uy * side, by + ux * side], [bx + uy * side, by - ux * side]];
  shape(parent, 'polygon', { points: points.map((p) => p.join(',')).join(' '), fill: colour });
}

// The ground of an actor at a place, and its middle on the map.
function groundAt(actor, x, y) {
  const [x0, y0, x1, y1] = actor.ground;
  const area = [x + x0, y + y0, x + x1, y + y1];
  return { area, middle: at((area[0] + area[2]) / 2, (area[1] + area[3]) / 2) };
}

function drawGround(parent, actor, { area, middle }, style) {
  if (actor.round) {
    return shape(parent, 'circle',
      { cx: middle[0], cy: middle[1], r: Math.abs((area[2] - area[0]) / 2 * page.scale[0]), ...style });
  }
  return box(parent, area, style);
}

// An actor with what it touches, its intent and its velocity.
function drawActor(parent, actor, [x, y, vx, vy, ix, iy, , , , touching]) {
  const ground = groundAt(actor, x, y), { area, middle } = ground;
  drawGround(parent, actor, ground,
    { fill: actor.colour, 'fill-opacity': 0.45, stroke: actor.colour, 'stroke-width': 1.5 * grain });
  for (const [, nx, ny] of touching) {
    // The side of the footprint that lies against the wall, and the wall's normal.
    const [ax, ay] = at(area[0], area[1]), [bx, by] = at(area[2], area[3]);
    const half = [Math.abs(bx - ax) / 2, Math.abs(by - ay) / 2];
    const normal = [nx, ny * Math.sign(page.scale[1])];
    const foot = [middle[0] - normal[0] * half[0], middle[1] - normal[1] * half[1]];
    const along = [normal[1] * half[0], normal[0] * half[1]];
    shape(parent, 'line', { x1: foot[0] - along[0], y1: foot[1] - along[1], x2: foot[0] + along[0],
      y2: foot[1] + along[1], stroke: MARK, 'stroke-width': 4 * grain, class: 'touch' });
    arrow(parent, foot, [normal[0] * 20 * grain, normal[1] * 20 * grain], MARK, 1.5);
  }
  const wish = way(ix, iy), size = Math.hypot(...wish);
  if (size > 0) {
    const reach = 24 * grain / Math.abs(page.scale[0]);
    const [wx, wy] = [wish[0] * reach, wish[1] * reach];
    shape(parent, 'line', { x1: middle[0], y1: middle[1], x2: middle[0] + wx, y2: middle[1] + wy,
      stroke: INK, 'stroke-width': 1.2 * grain, 'stroke-dasharray': `${2 * grain} ${3 * grain}` });
  }
  arrow(parent, middle, way(vx * VELOCITY_SECONDS, vy * VELOCITY_SECONDS), actor.colour, 2.5);
}

// A place where something was touched, with the wall's normal.
function drawContact(parent, event) {
  const place = at(...event.point);
  shape(parent, 'circle', { cx: place[0], cy: place[1], r: 4 * grain, fill: MARK, class: 'contact' });
  const [nx, ny] = [event.normal[0], event.normal[1] * Math.sign(page.scale[1])];
  arrow(parent, place, [nx * 26 * grain, ny * 26 * grain], MARK, 2);
}

function drawCrate(parent, area) {
  const inset = (area[2] - area[0]) * 0.12;
  const inner = [area[0] + inset, area[1] + inset, area[2] - inset, area[3] - inset];
  box(parent, inner, { fill: 'var(--crate)', stroke: INK, 'stroke-opacity': 0.6 });
}

function drawBroken(parent, area) {
  box(parent, area, { fill: 'var(--paper)', 'fill-opacity': 0.85 });
}

// Puts the walls that move where they are, by [number, x, y] from their starts, and hides those that broke.
function placeWalls(moved, gone) {
  const offsets = new Map(moved.map(([wall, x, y]) => [wall, way(x, y)]));
  for (const group of document.querySelectorAll('[data-wall]')) {
    const wall = Number(group.dataset.wall);
    const [x, y] = offsets.get(wall) || [0, 0];
    group.setAttribute('transform', `translate(${x} ${y})`);
    group.style.display = gone.has(wall) ? 'none' : '';
  }
}

// One line of a list of what happened.
function listItem(time, text, kind) {
  const item = document.createElement('li');
  const when = document.createElement('time');
  when.textContent = time.toFixed(3);
  const what = document.createElement('span');
  what.textContent = text;
  if (kind) what.className = kind;
  item.append(when, what);
  return item;
}

function eventText(event) {
  return page.actors.length > 1 ? `${page.actors[event.actor].name} ${event.text}` : event.text;
}

const eventClass = (event) => (['touched', 'blocked', 'squeezed'].includes(event.kind) ? 'touched' : '');

// Tiles and obstacles with their colours.
function listKinds() {
  for (const [name, colour] of page.kinds) {
    const entry = document.createElement('span'), square = document.createElement('i');
    square.className = 'square';
    square.style.background = colour;
    entry.append(square, name);
    element('legend').appendChild(entry);
  }
}
