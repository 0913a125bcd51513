'use strict';
// The page's one state is the tick that is shown; everything on it follows from that.
const run = JSON.parse(document.getElementById('data').textContent);
const element = (id) => document.getElementById(id);
const last = run.times.length - 1;
const MARK = '#b3261e', INK = '#22302b';
// A velocity is drawn as the way of a quarter of a second.
const VELOCITY_SECONDS = 0.25;
let tick = 0, playing = null;

// World to map.
const at = (x, y) => [run.origin[0] + x * run.scale[0], run.origin[1] + y * run.scale[1]];
const way = (x, y) => [x * run.scale[0], y * run.scale[1]];

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
  if (length < 1) return;
  const [ux, uy] = [dx / length, dy / length], [tx, ty] = [x + dx, y + dy];
  const head = Math.min(7, length);
  const [bx, by] = [tx - ux * head, ty - uy * head], side = head * 0.55;
  shape(parent, 'line', { x1: x, y1: y, x2: bx, y2: by, stroke: colour, 'stroke-width': width });
  const points = [[tx, ty], [bx - uy * side, by + ux * side], [bx + uy * side, by - ux * side]];
  shape(parent, 'polygon', { points: points.map((p) => p.join(',')).join(' '), fill: colour });
}

// The last entry of a list of [time, ...] that is not later than now.
function latest(list, time) {
  let found = null;
  for (const entry of list) {
    if (entry[0] > time + 1e-9) break;
    found = entry;
  }
  return found;
}

function drawWorld(time) {
  const live = element('live');
  live.replaceChildren();
  for (const [when, ...area] of run.broken) {
    if (when <= time + 1e-9) box(live, area, { fill: '#fbfaf7', 'fill-opacity': 0.85 });
  }
  const gone = new Set(run.shattered.filter(([when]) => when <= time + 1e-9).map(([, wall]) => wall));
  const moved = latest(run.walls, time);
  const offsets = new Map((moved ? moved[1] : []).map(([wall, x, y]) => [wall, way(x, y)]));
  for (const group of document.querySelectorAll('[data-wall]')) {
    const wall = Number(group.dataset.wall);
    const [x, y] = offsets.get(wall) || [0, 0];
    group.setAttribute('transform', `translate(${x} ${y})`);
    group.style.display = gone.has(wall) ? 'none' : '';
  }
  const crates = latest(run.crates, time);
  for (const area of crates ? crates[1] : []) {
    const inset = (area[2] - area[0]) * 0.12;
    const inner = [area[0] + inset, area[1] + inset, area[2] - inset, area[3] - inset];
    box(live, inner, { fill: '#c99a5b', stroke: INK, 'stroke-opacity': 0.6 });
  }
  for (const actor of run.actors) drawActor(live, actor);
  const before = tick > 0 ? run.times[tick - 1] : -1;
  for (const event of run.events) {
    if (!event.point || event.time <= before || event.time > time + 1e-9) continue;
    const place = at(...event.point);
    shape(live, 'circle', { cx: place[0], cy: place[1], r: 4, fill: MARK, class: 'contact' });
    arrow(live, place, [event.normal[0] * 26, event.normal[1] * Math.sign(run.scale[1]) * 26], MARK, 2);
  }
}

function drawActor(parent, actor) {
  const [x, y, vx, vy, ix, iy, , , , touching] = actor.rows[tick];
  const [x0, y0, x1, y1] = actor.ground;
  const area = [x + x0, y + y0, x + x1, y + y1];
  const style = { fill: actor.colour, 'fill-opacity': 0.45, stroke: actor.colour, 'stroke-width': 1.5 };
  const middle = at((area[0] + area[2]) / 2, (area[1] + area[3]) / 2);
  if (actor.round) {
    shape(parent, 'circle', { cx: middle[0], cy: middle[1], r: Math.abs((x1 - x0) / 2 * run.scale[0]), ...style });
  } else {
    box(parent, area, style);
  }
  for (const number of touching) {
    // The side of the footprint that lies against the wall, and the wall's normal.
    const [, nx, ny] = run.touches[number];
    const [ax, ay] = at(area[0], area[1]), [bx, by] = at(area[2], area[3]);
    const half = [Math.abs(bx - ax) / 2, Math.abs(by - ay) / 2];
    const normal = [nx, ny * Math.sign(run.scale[1])];
    const foot = [middle[0] - normal[0] * half[0], middle[1] - normal[1] * half[1]];
    const along = [normal[1] * half[0], normal[0] * half[1]];
    shape(parent, 'line', { x1: foot[0] - along[0], y1: foot[1] - along[1], x2: foot[0] + along[0],
      y2: foot[1] + along[1], stroke: MARK, 'stroke-width': 4, class: 'touch' });
    arrow(parent, foot, [normal[0] * 20, normal[1] * 20], MARK, 1.5);
  }
  const wish = way(ix, iy), size = Math.hypot(...wish);
  if (size > 0) {
    const reach = 24 / Math.abs(run.scale[0]);
    const [wx, wy] = [wish[0] * reach, wish[1] * reach];
    shape(parent, 'line', { x1: middle[0], y1: middle[1], x2: middle[0] + wx, y2: middle[1] + wy,
      stroke: INK, 'stroke-width': 1.2, 'stroke-dasharray': '2 3' });
  }
  arrow(parent, middle, way(vx * VELOCITY_SECONDS, vy * VELOCITY_SECONDS), actor.colour, 2.5);
}

function drawActors() {
  const line = (name, value) => `<tr><th>${name}</th><td>${value}</td></tr>`;
  const two = (a, b) => `${a.toFixed(3)}, ${b.toFixed(3)}`;
  const text = (words) => words.replace(/[&<>]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;' })[c]);
  const parts = run.actors.map((actor) => {
    const [x, y, vx, vy, ix, iy, facing, column, row, touching] = actor.rows[tick];
    const touched = touching.map((number) => text(run.touches[number][0])).join('; ');
    return `<h2><span class="swatch" style="background:${actor.colour}"></span>${text(actor.name)}</h2><table>` +
      line('position', `${two(x, y)} &nbsp; tile ${column}, ${row}`) +
      line('velocity', `${two(vx, vy)} &nbsp; speed ${Math.hypot(vx, vy).toFixed(2)}`) +
      line('intent', two(ix, iy) + (actor.face ? ` &nbsp; facing ${facing}` : '')) +
      line('touching', touched ? `<span class="touched">${touched}</span>` : 'nothing') + '</table>';
  });
  element('actors').innerHTML = parts.join('');
}

function drawCursor(time) {
  const [from, to, height] = run.chart;
  const x = from + (to - from) * (run.seconds > 0 ? time / run.seconds : 0);
  element('cursor').replaceChildren();
  shape(element('cursor'), 'line', { x1: x, y1: 4, x2: x, y2: height, stroke: MARK, 'stroke-width': 1.2 });
}

function markEvents(time) {
  const items = element('events').children;
  let newest = -1;
  run.events.forEach((event, place) => {
    const later = event.time > time + 1e-9;
    items[place].classList.toggle('later', later);
    if (!later) newest = place;
  });
  for (let place = 0; place < items.length; place++) items[place].classList.toggle('now', place === newest);
  if (newest >= 0) {
    const list = element('events'), item = items[newest];
    const top = item.offsetTop - list.offsetTop;
    if (top < list.scrollTop || top > list.scrollTop + list.clientHeight - 40) list.scrollTop = top - 60;
  }
}

function show(wanted) {
  tick = Math.max(0, Math.min(last, wanted));
  const time = run.times[tick];
  element('slider').value = tick;
  element('time').textContent = `${time.toFixed(3)} s, tick ${tick}`;
  drawWorld(time);
  drawActors();
  drawCursor(time);
  markEvents(time);
}

// The first tick at which something that happened at a time is past.
function tickOf(time) {
  const found = run.times.findIndex((each) => each >= time - 1e-9);
  return found < 0 ? last : found;
}

function stop() {
  if (playing) cancelAnimationFrame(playing.frame);
  playing = null;
  element('play').textContent = 'play';
}

function play() {
  if (playing) return stop();
  playing = { since: performance.now(), from: run.times[tick === last ? 0 : tick] };
  element('play').textContent = 'pause';
  const frame = (now) => {
    const time = playing.from + (now - playing.since) / 1000 * Number(element('pace').value);
    if (time >= run.seconds) { stop(); return show(last); }
    show(Math.max(0, tickOf(time + 1e-6) - 1));
    playing.frame = requestAnimationFrame(frame);
  };
  playing.frame = requestAnimationFrame(frame);
}

function listed(parent, time, text, kind) {
  const item = document.createElement('li');
  const when = document.createElement('time');
  when.textContent = time.toFixed(3);
  const what = document.createElement('span');
  what.textContent = text;
  if (kind) what.className = kind;
  item.append(when, what);
  item.tabIndex = 0;
  const go = () => { stop(); show(tickOf(time)); };
  item.addEventListener('click', go);
  item.addEventListener('keydown', (key) => { if (key.key === 'Enter') go(); });
  element(parent).appendChild(item);
}

for (const event of run.events) {
  const who = run.actors.length > 1 ? `${run.actors[event.actor].name} ` : '';
  const bad = ['touched', 'blocked', 'squeezed'].includes(event.kind);
  listed('events', event.time, who + event.text, bad ? 'touched' : '');
}
for (const [time, actor, expected, found, held] of run.expected) {
  const text = held ? `held: ${actor} ${expected}` : `NOT HELD: ${actor} ${expected}: was ${found}`;
  listed('expected', time, text, held ? '' : 'failed');
}
for (const [name, colour] of run.kinds) {
  const entry = document.createElement('span'), square = document.createElement('i');
  square.className = 'square';
  square.style.background = colour;
  entry.append(square, name);
  element('legend').appendChild(entry);
}
if (run.expected.length === 0) element('expected-title').remove();
element('slider').max = last;
element('slider').addEventListener('input', (event) => { stop(); show(Number(event.target.value)); });
element('play').addEventListener('click', play);
element('pace').addEventListener('change', () => { if (playing) { stop(); play(); } });
element('back').addEventListener('click', () => { stop(); show(tick - 1); });
element('on').addEventListener('click', () => { stop(); show(tick + 1); });
element('chart').addEventListener('click', (event) => {
  const [from, to] = run.chart, area = element('chart').getBoundingClientRect();
  const x = (event.clientX - area.left) / area.width * element('chart').viewBox.baseVal.width;
  stop();
  show(tickOf((x - from) / (to - from) * run.seconds));
});
document.addEventListener('keydown', (event) => {
  if (event.target.tagName === 'SELECT' || event.target.type === 'range' && event.key !== ' ') return;
  if (event.key === ' ' && event.target.tagName !== 'BUTTON') { event.preventDefault(); play(); }
  if (event.key === 'ArrowLeft') { stop(); show(tick - 1); }
  if (event.key === 'ArrowRight') { stop(); show(tick + 1); }
});
show(0);
