// The play is in the tool: this page says what the hand does, asks for each picture, and draws the answer.
const KEYS = { ArrowLeft: 'left', ArrowRight: 'right', ArrowUp: 'up', ArrowDown: 'down',
               KeyA: 'left', KeyD: 'right', KeyW: 'up', KeyS: 'down' };
// Buttons of a gamepad's cross, by number.
const CROSS = { 12: 'up', 13: 'down', 14: 'left', 15: 'right' };
const CHART_SECONDS = 10, PATH_SECONDS = 4, MOST_EVENTS = 200;
const hand = { held: new Set(), pad: [0, 0], buttons: new Set(), stick: null, drag: null, aim: null };
const shown = { feelers: false, follow: false, zoom: 3 };
let now = null, known = [0, 0, 0], track = [], events = [], socket = null, waiting = false, connected = false, goesOn = null;

function send(message) {
  if (connected) socket.send(JSON.stringify(message));
}

// ---- the connection

function connect() {
  socket = new WebSocket(`ws://${location.host}${location.pathname}play`);
  socket.onopen = () => { connected = true; waiting = false; known = [0, 0, 0]; hand.held.clear(); veil(''); };
  socket.onmessage = ({ data }) => {
    const answer = JSON.parse(data);
    if (answer.refused) return say(`the tool did not understand this page: ${answer.refused}`, true);
    waiting = false;
    if (answer.taken) { goesOn = false; socket.close(); return veil('Another page is in control of this play.', true); }
    if (answer.ended) { goesOn = false; socket.close(); return veil('The play has ended. You can close this page.'); }
    take(answer);
  };
  socket.onclose = () => {
    connected = false;
    if (goesOn === false) return;
    veil('The tool does not answer: it has ended, or it will be back in a moment.');
    setTimeout(connect, 1000);
  };
}

function veil(text, canTake) {
  element('veil').classList.toggle('shown', text !== '');
  element('veil-text').textContent = text;
  element('take').hidden = !canTake;
}

function say(text, failed) {
  element('message').textContent = text;
  element('message').classList.toggle('failed', Boolean(failed));
}

function frame() {
  requestAnimationFrame(frame);
  if (!connected || waiting) return;
  pollPad();
  waiting = true;
  const wanted = { do: 'frame', known, feelers: shown.feelers };
  if (hand.drag) wanted.drag = dragNow();
  send(wanted);
}

// ---- what the answer says

function take(answer) {
  now = answer;
  if (now.version !== known[0]) { track = []; events = []; element('events').replaceChildren(); }
  track.push(...now.track);
  const oldest = now.tick - CHART_SECONDS * page.tick_rate;
  track = track.filter(([tick]) => tick >= oldest);
  for (const event of now.events.new) {
    events.push(event);
    element('events').appendChild(listItem(event.time, eventText(event), eventClass(event)));
  }
  if (now.events.new.length > 0) {
    while (events.length > MOST_EVENTS) { events.shift(); element('events').firstChild.remove(); }
    element('events').scrollTop = element('events').scrollHeight;
  }
  known = [now.version, now.tick, now.events.count];
  draw();
}

const mixed = (before, after) => {
  const far = Math.hypot(after[0] - before[0], after[1] - before[1]) > 2 * Math.max(...page.tile);
  const part = far ? 1 : now.fraction;
  return [before[0] + (after[0] - before[0]) * part, before[1] + (after[1] - before[1]) * part];
};

// A row of an actor where it is between its last two ticks.
function rowNow(place) {
  if (!now.rows[place]) return null;
  const [row, before] = now.rows[place];
  return [...mixed(before, row), ...row.slice(2)];
}

// ---- drawing

function draw() {
  const own = rowNow(now.actor), actor = page.actors[now.actor];
  look(own, actor);
  const live = element('live');
  live.replaceChildren();
  for (const area of now.broken) drawBroken(live, area);
  for (const [area, left] of now.cracked) {
    box(live, area, { fill: 'var(--paper)', 'fill-opacity': 0.75 * (1 - left) });
    const [x0, y0, x1, y1] = area, middle = [(x0 + x1) / 2, (y0 + y1) / 2];
    for (const [x, y] of [[x0, y0], [x1, (y0 + middle[1]) / 2], [middle[0], y1]]) {
      const [a, b] = [at(...middle), at(x, y)];
      shape(live, 'line', { x1: a[0], y1: a[1], x2: b[0], y2: b[1], stroke: INK, 'stroke-width': 1.2 * grain, class: 'crack' });
    }
  }
  placeWalls(now.moved.map(([wall, x, y, px, py]) => [wall, ...mixed([px, py], [x, y])]), new Set(now.shattered));
  for (const area of now.crates) drawCrate(live, area);
  drawPath(live, actor);
  if (now.ghost) {
    const [x, y, px, py] = now.ghost, ground = groundAt(actor, ...mixed([px, py], [x, y]));
    drawGround(live, actor, ground, { fill: 'none', stroke: actor.colour, 'stroke-width': 1.5 * grain,
      'stroke-dasharray': `${4 * grain} ${3 * grain}`, class: 'ghost' });
  }
  page.actors.forEach((each, place) => {
    const row = place === now.actor ? null : rowNow(place);
    if (row) drawActor(live, each, row);
  });
  for (const [x, y] of now.shots) {
    const [cx, cy] = at(x, y);
    shape(live, 'circle', { cx, cy, r: 3.5 * grain, fill: INK });
  }
  if (own) drawActor(live, actor, own);
  for (const event of events) {
    if (event.point && event.time > now.time - 0.2) drawContact(live, event);
  }
  if (now.feelers && own) drawFeelers(live, actor, own);
  drawHand(live, actor, own);
  drawChart(actor);
  drawPanel(own);
}

// Which part of the map is shown: all of it, or what is round the actor.
function look(own, actor) {
  const map = element('map'), { width, height } = look.all;
  let area = [0, 0, width, height];
  if (shown.follow && own) {
    const [w, h] = [width / shown.zoom, height / shown.zoom], { middle } = groundAt(actor, own[0], own[1]);
    const within = (at, size, all) => Math.max(0, Math.min(all - size, at - size / 2));
    area = [within(middle[0], w, width), within(middle[1], h, height), w, h];
  }
  grain = shown.follow ? 1 / shown.zoom : 1;
  map.setAttribute('viewBox', area.join(' '));
}

function drawPath(live, actor) {
  const places = track.filter(([tick]) => tick > now.tick - PATH_SECONDS * page.tick_rate);
  const middle = ([, x, y]) => groundAt(actor, x, y).middle;
  let line = [];
  const flush = () => {
    if (line.length > 1) {
      shape(live, 'polyline', { points: line.map((p) => p.map((n) => n.toFixed(2)).join(',')).join(' '), fill: 'none',
        stroke: actor.colour, 'stroke-opacity': 0.45, 'stroke-width': 1.5 * grain });
    }
    line = [];
  };
  places.forEach((entry, place) => {
    const last = places[place - 1];
    // Through a portal or round the edge there is no line.
    if (last && Math.hypot(entry[1] - last[1], entry[2] - last[2]) > 3 * Math.max(...page.tile)) flush();
    line.push(middle(entry));
  });
  flush();
}

function drawFeelers(live, actor, own) {
  const { area: [x0, y0, x1, y1] } = groundAt(actor, own[0], own[1]), [left, right, lower, higher] = now.feelers;
  const [mx, my] = [(x0 + x1) / 2, (y0 + y1) / 2];
  const lines = [[x0, my, x0 - left, my], [x1, my, x1 + right, my], [mx, y0, mx, y0 - lower], [mx, y1, mx, y1 + higher]];
  lines.forEach(([ax, ay, bx, by], side) => {
    const [a, b] = [at(ax, ay), at(bx, by)];
    shape(live, 'line', { x1: a[0], y1: a[1], x2: b[0], y2: b[1], stroke: 'var(--c0b7285)', 'stroke-width': 1.2 * grain,
      'stroke-dasharray': `${3 * grain} ${3 * grain}` });
    // Next to a wall there is no room for a number.
    if (Math.hypot(b[0] - a[0], b[1] - a[1]) < 14 * grain) return;
    const text = shape(live, 'text', { x: (a[0] + b[0]) / 2 + 4 * grain, y: (a[1] + b[1]) / 2 - 3 * grain,
      'font-size': 11 * grain, fill: 'var(--c0b7285)' });
    text.textContent = now.feelers[side].toFixed(1);
  });
}

// A drag under way with what it would launch, or the line of an aim.
function drawHand(live, actor, own) {
  if (hand.drag) {
    const { from, to } = dragNow(), [a, b] = [at(...from), at(...to)];
    shape(live, 'line', { x1: a[0], y1: a[1], x2: b[0], y2: b[1], stroke: INK, 'stroke-width': 1.5 * grain,
      'stroke-dasharray': `${5 * grain} ${4 * grain}` });
    shape(live, 'circle', { cx: a[0], cy: a[1], r: 3 * grain, fill: INK });
    if (now.launch && own) {
      const points = now.launch.path.map(([x, y]) => groundAt(actor, x, y).middle.map((n) => n.toFixed(2)).join(','));
      shape(live, 'polyline', { points: points.join(' '), fill: 'none', stroke: actor.colour, 'stroke-width': 2 * grain,
        'stroke-dasharray': `${2 * grain} ${4 * grain}`, class: 'launch' });
      const [vx, vy] = now.launch.velocity, { middle } = groundAt(actor, own[0], own[1]);
      arrow(live, middle, way(vx * VELOCITY_SECONDS, vy * VELOCITY_SECONDS), INK, 2.5);
      say(`launches at ${Math.hypot(vx, vy).toFixed(1)} units/s; let go to flick`);
    } else {
      say('too short a drag to launch anything');
    }
  } else if (hand.aim && now.hand.shoots && own) {
    const { middle } = groundAt(actor, own[0], own[1]), to = at(...hand.aim);
    shape(live, 'line', { x1: middle[0], y1: middle[1], x2: to[0], y2: to[1], stroke: INK, 'stroke-opacity': 0.6,
      'stroke-width': 1.2 * grain, 'stroke-dasharray': `${5 * grain} ${4 * grain}` });
    shape(live, 'circle', { cx: to[0], cy: to[1], r: 5 * grain, fill: 'none', stroke: INK, 'stroke-width': 1.2 * grain });
  }
}

// A round number that is not smaller.
function roundUp(value, parts = [1, 1.5, 2, 3, 4, 5, 6, 8, 10]) {
  const ten = 10 ** Math.floor(Math.log10(Math.max(value, 1e-6)));
  return parts.map((part) => part * ten).find((round) => round >= value);
}

function drawChart(actor) {
  const chart = element('chart'), width = Math.max(300, chart.clientWidth), up = Math.sign(page.scale[1]);
  const [left, right, bottom] = [56, width - 8, 104];
  chart.setAttribute('viewBox', `0 0 ${width} 170`);
  chart.replaceChildren();
  const last = now.tick / page.tick_rate, first = Math.max(0, last - CHART_SECONDS);
  const x = (tick) => left + (tick / page.tick_rate - first) / CHART_SECONDS * (right - left);
  const top = roundUp(Math.max(1, ...track.map(([, , , speed]) => speed)));
  const words = (x, y, text, anchor) => {
    const made = shape(chart, 'text', { x, y, 'font-size': 12, fill: 'var(--faint)', 'text-anchor': anchor });
    made.textContent = text;
  };
  for (const part of [0, 0.5, 1]) {
    const y = bottom - part * 84;
    shape(chart, 'line', { x1: left, y1: y, x2: right, y2: y, stroke: 'var(--line)' });
    words(left - 6, y + 4, String(top * part), 'end');
  }
  words(2, 11, 'units/s', 'start');
  for (let second = Math.ceil(first); second <= first + CHART_SECONDS; second++) {
    words(x(second * page.tick_rate), bottom + 14, second, 'middle');
  }
  const points = track.map(([tick, , , speed]) => `${x(tick).toFixed(1)},${(bottom - speed / top * 84).toFixed(1)}`);
  shape(chart, 'polyline', { points: points.join(' '), fill: 'none', stroke: actor.colour, 'stroke-width': 1.8 });
  ['←', '→', '↑', '↓'].forEach((name, key) => {
    const y = bottom + 26 + key * 11;
    words(left - 6, y + 4, name, 'end');
    shape(chart, 'line', { x1: left, y1: y, x2: right, y2: y, stroke: 'var(--line)' });
    // A key that is held counts as 1, a stick as far as it asks for something.
    const asked = ([, , , , keys, ix, iy]) =>
      (keys >> key & 1 ? 1 : Math.max(0, [-ix, ix, -iy * up, iy * up][key])).toFixed(2);
    for (let place = 0; place < track.length;) {
      let end = place;
      while (end + 1 < track.length && asked(track[end + 1]) === asked(track[place])) end++;
      if (asked(track[place]) > 0.01) {
        const from = x(track[place][0] - 1);
        shape(chart, 'rect', { x: Math.max(left, from), y: y - 3, width: Math.max(1, x(track[end][0]) - from), height: 6, rx: 1,
          fill: actor.colour, 'fill-opacity': asked(track[place]) });
      }
      place = end + 1;
    }
  });
}

function drawPanel(own) {
  const set = (id, text) => { if (element(id).textContent !== text) element(id).textContent = text; };
  set('pause', now.paused ? 'continue' : 'pause');
  set('time', `${now.time.toFixed(3)} s, tick ${now.tick}`);
  element('walls').setAttribute('aria-pressed', now.walls_off);
  element('feelers').setAttribute('aria-pressed', shown.feelers);
  element('follow').setAttribute('aria-pressed', shown.follow);
  if (document.activeElement !== element('pace')) element('pace').value = now.pace;
  if (document.activeElement !== element('actor')) element('actor').value = now.actor;
  element('view').classList.toggle('flicks', now.hand.flicks);
  element('view').classList.toggle('aims', now.hand.shoots || now.hand.holds_ball);
  if (!hand.drag) {
    const ready = now.hand.holds_ball ? 'e or a click serves the ball' : now.hand.flicks ? 'drag over the map to flick' : '';
    say(now.message || ready);
  }
  if (own) drawState(own);
  drawNumbers();
}

function drawState(own) {
  const [x, y, vx, vy, ix, iy, facing, column, row, touching] = own;
  const two = (a, b) => `${a.toFixed(2)}, ${b.toFixed(2)}`;
  const lines = [
    ['position', `${two(x, y)} units`],
    ['tile', `${column}, ${row}${now.kind ? ` ${now.kind}` : ''}`],
    ['velocity', `${two(vx, vy)} units/s`],
    ['speed', `${Math.hypot(vx, vy).toFixed(2)} units/s`],
    ['intent', `${two(ix, iy)}, length ${Math.hypot(ix, iy).toFixed(2)}`],
    ['facing', `${facing}; ${now.stance[0] ? 'moving' : 'standing'} for ${now.stance[1].toFixed(1)} s`],
    ['touching', touching.map(([text]) => text).join('; ') || 'nothing'],
  ];
  fill('state', lines, (cell, name) => { cell.className = name === 'touching' && touching.length ? 'touched' : ''; });
}

// A table of names and values, changed only where it says something else.
function fill(id, lines, mark) {
  const table = element(id);
  while (table.rows.length > lines.length) table.deleteRow(-1);
  lines.forEach(([name, value], place) => {
    let row = table.rows[place];
    if (!row) { row = table.insertRow(); row.append(document.createElement('th'), document.createElement('td')); }
    if (row.cells[0].textContent !== name) row.cells[0].textContent = name;
    if (row.cells[1].textContent !== value) row.cells[1].textContent = value;
    if (mark) mark(row.cells[1], name);
  });
}

// ---- numbers

let listed = '';

function drawNumbers() {
  const { actor, list, changed, feel, feel_of_file: ofFile, rust } = now.numbers;
  const names = actor + list.map(([name]) => name).join();
  if (names !== listed) { listed = names; buildNumbers(list); }
  list.forEach(([, value, written], place) => {
    const row = element('numbers').children[place], [slider, field] = row.querySelectorAll('input');
    row.classList.toggle('changed', value !== written);
    row.title = value === written ? '' : `file: ${written}`;
    if (hand.slider !== slider && Number(slider.value) !== value) slider.value = value;
    if (document.activeElement !== field && field.value !== String(value)) field.value = value;
  });
  const changes = (number, other) => number !== other && changed;
  const text = (number, unit) => (number === null ? '—' : `${Number(number.toPrecision(4))} ${unit}`);
  const figures = feel.map(([name, number, unit], place) => [name, number, ofFile[place][1], unit]);
  fill('feel', figures.filter(([, number, other]) => number !== null || other !== null).map(([name, number, other, unit]) =>
    [name, text(number, unit) + (changes(number, other) ? `  (file: ${text(other, unit)})` : '')]));
  for (const id of ['revert', 'save']) element(id).disabled = !changed;
  element('rust').textContent = rust;
}

function buildNumbers(list) {
  const rows = list.map(([name, , written]) => {
    const row = document.createElement('div'), label = document.createElement('label');
    const slider = document.createElement('input'), field = document.createElement('input');
    row.className = 'number';
    label.textContent = name;
    label.title = name;
    field.type = 'number';
    field.step = 'any';
    field.id = `number-${name}`;
    label.htmlFor = field.id;
    slider.type = 'range';
    const most = written === 0 ? 10 : Math.abs(roundUp(Math.abs(written) * 2));
    [slider.min, slider.max] = written < 0 ? [-most, 0] : [0, most];
    slider.step = roundUp(most / 200, [1, 2, 5, 10]);
    slider.setAttribute('aria-label', name);
    slider.addEventListener('input', () => {
      send({ do: 'number', way: name, value: Number(slider.value), goes_on: hand.slider === slider });
      hand.slider = slider;
    });
    slider.addEventListener('change', () => { hand.slider = null; });
    // The pointer gives the keys back to the map.
    slider.addEventListener('pointerup', () => { hand.slider = null; element('view').focus(); });
    field.addEventListener('change', () => {
      if (field.value !== '') send({ do: 'number', way: name, value: Number(field.value), goes_on: false });
    });
    field.addEventListener('keydown', (event) => { if (event.key === 'Enter') element('view').focus(); });
    row.append(label, slider, field);
    return row;
  });
  if (rows.length === 0) rows.push(document.createTextNode('none in the file'));
  element('numbers').replaceChildren(...rows);
}

function copyRust() {
  element('rust').hidden = false;
  const copied = navigator.clipboard ? navigator.clipboard.writeText(now.numbers.rust) : Promise.reject();
  copied.catch(() => getSelection().selectAllChildren(element('rust')));
}

// ---- the hand: keys

const isField = (target) => target.tagName === 'SELECT' || target.tagName === 'INPUT' && target.type !== 'range';

function key(name, down) {
  if (down === hand.held.has(name)) return;
  if (down) hand.held.add(name); else hand.held.delete(name);
  send({ do: 'key', key: name, down });
}

function letGo() {
  hand.held.clear();
  hand.drag = null;
  send({ do: 'release_all' });
}

// Serves, or shoots where the pointer is, or else ahead.
function act() {
  if (!now) return;
  if (now.hand.holds_ball) return send({ do: 'serve' });
  const own = rowNow(now.actor);
  if (!now.hand.shoots || !own) return send({ do: 'serve' });
  const [x, y, vx, vy] = own, speed = Math.hypot(vx, vy);
  send({ do: 'shoot', toward: hand.aim || (speed > 0 ? [x + vx, y + vy] : [x + 1, y]) });
}

const COMMANDS = {
  ' ': () => send({ do: 'pause', paused: !now.paused }),
  ',': () => send({ do: 'back' }),
  '.': () => send({ do: 'step' }),
  x: () => send({ do: 'restart' }),
  g: () => send({ do: 'walls' }),
  f: () => { shown.feelers = !shown.feelers; },
  v: () => { shown.follow = !shown.follow; },
  '+': () => zoom(1.25),
  '=': () => zoom(1.25),
  '-': () => zoom(0.8),
  n: () => {
    const place = page.able.indexOf(now.actor);
    send({ do: 'actor', actor: page.able[(place + 1) % page.able.length] });
  },
  u: () => send({ do: 'undo' }),
  r: () => send({ do: 'revert' }),
  m: () => send({ do: 'save' }),
  k: () => send({ do: 'keep' }),
  p: copyRust,
  e: act,
  '?': () => element('keys').showModal(),
};

function zoom(by) {
  shown.zoom = Math.max(1, Math.min(24, (shown.follow ? shown.zoom : 1) * by));
  shown.follow = shown.zoom > 1;
}

document.addEventListener('keydown', (event) => {
  if (element('keys').open) return;
  const { target } = event, isRange = target.type === 'range';
  if (event.key === 'Escape' && target.tagName === 'INPUT') return element('view').focus();
  if (event.ctrlKey || event.metaKey || event.altKey || isField(target)) return;
  const name = KEYS[event.code];
  if (name && !(isRange && event.code.startsWith('Arrow'))) {
    event.preventDefault();
    if (!event.repeat) key(name, true);
    return;
  }
  const command = COMMANDS[event.key.length === 1 ? event.key.toLowerCase() : event.key];
  // A button that has the focus is pressed by the space.
  if (!command || !now || event.key === ' ' && (target.tagName === 'BUTTON' || isRange)) return;
  event.preventDefault();
  if (!event.repeat || event.key === ',' || event.key === '.') command();
});
document.addEventListener('keyup', (event) => {
  const name = KEYS[event.code];
  if (name) key(name, false);
});
window.addEventListener('blur', letGo);
document.addEventListener('visibilitychange', () => { if (document.hidden) letGo(); });

// ---- the hand: a gamepad

function pollPad() {
  const pads = navigator.getGamepads ? [...navigator.getGamepads()] : [];
  const pad = pads.find((each) => each && each.connected);
  if (!pad) return;
  const to = [pad.axes[0] || 0, pad.axes[1] || 0];
  if (!hand.stick && (to[0] !== hand.pad[0] || to[1] !== hand.pad[1])) { hand.pad = to; send({ do: 'stick', to }); }
  const pressed = new Set(pad.buttons.flatMap((button, place) => (button.pressed ? [place] : [])));
  for (const [place, name] of Object.entries(CROSS)) {
    const down = pressed.has(Number(place));
    if (down !== hand.buttons.has(Number(place))) key(name, down);
  }
  const news = (place) => pressed.has(place) && !hand.buttons.has(place);
  if (news(0)) act();
  if (news(9) && now) COMMANDS[' ']();
  hand.buttons = pressed;
}

// ---- the hand: the pointer, and the stick of a touch screen

// From the screen to the world.
function worldAt(event) {
  const map = element('map'), point = new DOMPoint(event.clientX, event.clientY).matrixTransform(map.getScreenCTM().inverse());
  const world = [(point.x - page.origin[0]) / page.scale[0], (point.y - page.origin[1]) / page.scale[1]];
  // A hundredth of a unit is finer than a pixel, and reads better in the script that is kept.
  return world.map((part) => Math.round(part * 100) / 100);
}

function dragNow() {
  const { from, to, since } = hand.drag;
  return { from, to, seconds: Math.max(0, (performance.now() - since) / 1000) };
}

const view = element('view');
view.addEventListener('pointerdown', (event) => {
  if (event.target.closest('#stick, #veil') || !now || event.button !== 0) return;
  view.focus();
  if (now.hand.holds_ball) return send({ do: 'serve' });
  const place = worldAt(event);
  if (now.hand.flicks) {
    view.setPointerCapture(event.pointerId);
    hand.drag = { from: place, to: place, since: performance.now(), pointer: event.pointerId };
  } else if (now.hand.shoots) {
    hand.aim = place;
    send({ do: 'shoot', toward: place });
  }
});
view.addEventListener('pointermove', (event) => {
  if (hand.drag && hand.drag.pointer === event.pointerId) hand.drag.to = worldAt(event);
  if (!event.target.closest('#stick')) hand.aim = worldAt(event);
});
view.addEventListener('pointerup', (event) => {
  if (!hand.drag || hand.drag.pointer !== event.pointerId) return;
  hand.drag.to = worldAt(event);
  send({ do: 'flick', ...dragNow() });
  hand.drag = null;
});
view.addEventListener('pointercancel', () => { hand.drag = null; });
view.addEventListener('pointerleave', () => { hand.aim = null; });
view.addEventListener('wheel', (event) => { event.preventDefault(); zoom(event.deltaY < 0 ? 1.25 : 0.8); }, { passive: false });

const stick = element('stick');
function moveStick(event) {
  const area = stick.getBoundingClientRect(), half = area.width / 2;
  let [x, y] = [(event.clientX - area.left - half) / half, (event.clientY - area.top - half) / half];
  const length = Math.max(1, Math.hypot(x, y));
  [x, y] = [x / length, y / length];
  element('knob').style.transform = `translate(${x * half * 0.7}px, ${y * half * 0.7}px)`;
  send({ do: 'stick', to: [x, y] });
}
stick.addEventListener('pointerdown', (event) => {
  stick.setPointerCapture(event.pointerId);
  hand.stick = event.pointerId;
  moveStick(event);
});
stick.addEventListener('pointermove', (event) => { if (hand.stick === event.pointerId) moveStick(event); });
for (const over of ['pointerup', 'pointercancel']) {
  stick.addEventListener(over, (event) => {
    if (hand.stick !== event.pointerId) return;
    hand.stick = null;
    element('knob').style.transform = '';
    send({ do: 'stick', to: [0, 0] });
  });
}

// ---- buttons

const BUTTONS = { pause: ' ', back: ',', step: '.', restart: 'x', walls: 'g', feelers: 'f', follow: 'v', out: '-', in: '+',
                  undo: 'u', revert: 'r', save: 'm', copy: 'p', keep: 'k', help: '?' };
for (const [id, command] of Object.entries(BUTTONS)) {
  element(id).addEventListener('click', (event) => {
    if (now) COMMANDS[command]();
    // A click gives the keys back to the map, the keyboard keeps its place.
    if (event.detail > 0 && id !== 'help') view.focus();
  });
}
element('end').addEventListener('click', () => send({ do: 'end' }));
element('take').addEventListener('click', () => { goesOn = null; connect(); });
element('pace').addEventListener('change', (event) => { send({ do: 'pace', pace: Number(event.target.value) }); view.focus(); });
element('actor').addEventListener('change', (event) => { send({ do: 'actor', actor: Number(event.target.value) }); view.focus(); });
for (const place of page.able) {
  const option = document.createElement('option');
  option.value = place;
  option.textContent = page.actors[place].name;
  element('actor').appendChild(option);
}
look.all = { width: element('map').viewBox.baseVal.width, height: element('map').viewBox.baseVal.height };
// A large map is followed from the start.
if (Math.abs(page.scale[0]) * Math.min(...page.tile) < 12) {
  shown.zoom = Math.min(24, 20 / (Math.abs(page.scale[0]) * Math.min(...page.tile)));
  shown.follow = true;
}
listKinds();
connect();
view.focus();
requestAnimationFrame(frame);
