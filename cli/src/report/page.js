// The page's one state is the tick that is shown; everything on it follows from that.
const last = page.times.length - 1;
let tick = 0, playing = null;

// The last entry of a list of [time, ...] that is not later than now.
function latest(list, time) {
  let found = null;
  for (const entry of list) {
    if (entry[0] > time + 1e-9) break;
    found = entry;
  }
  return found;
}

// A row with what it touches, instead of the numbers of that.
const touchingOf = (row) => row[9].map((number) => page.touches[number]);

function drawWorld(time) {
  const live = element('live');
  live.replaceChildren();
  const past = ([when]) => when <= time + 1e-9;
  for (const [, ...area] of page.broken.filter(past)) drawBroken(live, area);
  const moved = latest(page.walls, time);
  placeWalls(moved ? moved[1] : [], new Set(page.shattered.filter(past).map(([, wall]) => wall)));
  const crates = latest(page.crates, time);
  for (const area of crates ? crates[1] : []) drawCrate(live, area);
  for (const actor of page.actors) {
    const row = actor.rows[tick];
    drawActor(live, actor, [...row.slice(0, 9), touchingOf(row)]);
  }
  const before = tick > 0 ? page.times[tick - 1] : -1;
  for (const event of page.events) {
    if (event.point && event.time > before && event.time <= time + 1e-9) drawContact(live, event);
  }
}

function drawActors() {
  const line = (name, value) => `<tr><th>${name}</th><td>${value}</td></tr>`;
  const two = (a, b) => `${a.toFixed(3)}, ${b.toFixed(3)}`;
  const text = (words) => words.replace(/[&<>]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;' })[c]);
  const parts = page.actors.map((actor) => {
    const [x, y, vx, vy, ix, iy, facing, column, row] = actor.rows[tick];
    const touched = touchingOf(actor.rows[tick]).map(([what]) => text(what)).join('; ');
    return `<h2><span class="swatch" style="background:${actor.colour}"></span>${text(actor.name)}</h2><table>` +
      line('position', `${two(x, y)} &nbsp; tile ${column}, ${row}`) +
      line('velocity', `${two(vx, vy)} &nbsp; speed ${Math.hypot(vx, vy).toFixed(2)}`) +
      line('intent', two(ix, iy) + (actor.face ? ` &nbsp; facing ${facing}` : '')) +
      line('touching', touched ? `<span class="touched">${touched}</span>` : 'nothing') + '</table>';
  });
  element('actors').innerHTML = parts.join('');
}

function drawCursor(time) {
  const [from, to, height] = page.chart;
  const x = from + (to - from) * (page.seconds > 0 ? time / page.seconds : 0);
  element('cursor').replaceChildren();
  shape(element('cursor'), 'line', { x1: x, y1: 4, x2: x, y2: height, stroke: MARK, 'stroke-width': 1.2 });
}

function markEvents(time) {
  const items = element('events').children;
  let newest = -1;
  page.events.forEach((event, place) => {
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
  const time = page.times[tick];
  element('slider').value = tick;
  element('time').textContent = `${time.toFixed(3)} s, tick ${tick}`;
  drawWorld(time);
  drawActors();
  drawCursor(time);
  markEvents(time);
}

// The first tick at which something that happened at a time is past.
function tickOf(time) {
  const found = page.times.findIndex((each) => each >= time - 1e-9);
  return found < 0 ? last : found;
}

function stop() {
  if (playing) cancelAnimationFrame(playing.frame);
  playing = null;
  element('play').textContent = 'play';
}

function play() {
  if (playing) return stop();
  playing = { since: performance.now(), from: page.times[tick === last ? 0 : tick] };
  element('play').textContent = 'pause';
  const frame = (now) => {
    const time = playing.from + (now - playing.since) / 1000 * Number(element('pace').value);
    if (time >= page.seconds) { stop(); return show(last); }
    show(Math.max(0, tickOf(time + 1e-6) - 1));
    playing.frame = requestAnimationFrame(frame);
  };
  playing.frame = requestAnimationFrame(frame);
}

function listed(parent, time, text, kind) {
  const item = listItem(time, text, kind);
  item.tabIndex = 0;
  const go = () => { stop(); show(tickOf(time)); };
  item.addEventListener('click', go);
  item.addEventListener('keydown', (key) => { if (key.key === 'Enter') go(); });
  element(parent).appendChild(item);
}

for (const event of page.events) listed('events', event.time, eventText(event), eventClass(event));
for (const [time, actor, expected, found, held] of page.expected) {
  const text = held ? `held: ${actor} ${expected}` : `NOT HELD: ${actor} ${expected}: was ${found}`;
  listed('expected', time, text, held ? '' : 'failed');
}
listKinds();
if (page.expected.length === 0) element('expected-title').remove();
element('slider').max = last;
element('slider').addEventListener('input', (event) => { stop(); show(Number(event.target.value)); });
element('play').addEventListener('click', play);
element('pace').addEventListener('change', () => { if (playing) { stop(); play(); } });
element('back').addEventListener('click', () => { stop(); show(tick - 1); });
element('on').addEventListener('click', () => { stop(); show(tick + 1); });
element('chart').addEventListener('click', (event) => {
  const [from, to] = page.chart, area = element('chart').getBoundingClientRect();
  const x = (event.clientX - area.left) / area.width * element('chart').viewBox.baseVal.width;
  stop();
  show(tickOf((x - from) / (to - from) * page.seconds));
});
document.addEventListener('keydown', (event) => {
  if (event.target.tagName === 'SELECT' || event.target.type === 'range' && event.key !== ' ') return;
  if (event.key === ' ' && event.target.tagName !== 'BUTTON') { event.preventDefault(); play(); }
  if (event.key === 'ArrowLeft') { stop(); show(tick - 1); }
  if (event.key === 'ArrowRight') { stop(); show(tick + 1); }
});
show(0);
