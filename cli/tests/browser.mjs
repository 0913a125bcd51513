// The script of the page of a play, run on the tool's own page and answers.
//
// node cli/tests/browser.mjs PAGE.html PLAY.js ANSWERS.json
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import vm from 'node:vm';
import { made, page as documentOf } from './dom.mjs';

const [html, script, answers] = process.argv.slice(2).map((file) => readFileSync(file, 'utf8'));
const data = html.match(/<script id="data" type="application\/json">([\s\S]*?)<\/script>/)[1];
const still = JSON.parse(data), [first, moving, tuned] = JSON.parse(answers);
const document = documentOf(data);
const sent = [], frames = [];
let socket = null, clock = 0;
class Socket {
  constructor(address) { socket = this; this.address = address; }
  send(text) { sent.push(JSON.parse(text)); }
  close() { this.closed = true; }
}
const listeners = {};
const pad = { connected: true, axes: [0, 0], buttons: Array.from({ length: 16 }, () => ({ pressed: false })) };
const context = vm.createContext({
  document, WebSocket: Socket, location: { host: 'glasshouse:1', pathname: '/secret/' },
  window: { addEventListener: (kind, listener) => { listeners[kind] = listener; } },
  navigator: { getGamepads: () => [pad] },
  performance: { now: () => clock },
  requestAnimationFrame: (frame) => frames.push(frame),
  setTimeout: () => {},
  DOMPoint: class { constructor(x, y) { this.x = x; this.y = y; } matrixTransform() { return this; } },
});
vm.runInContext(script, context);
const element = (id) => document.getElementById(id);
const value = (words) => JSON.parse(JSON.stringify(vm.runInContext(words, context) ?? null));
const frame = () => frames.shift()();
const answer = (found) => socket.onmessage({ data: JSON.stringify(found) });
let checks = 0;
const check = (found, wanted, what) => { assert.deepEqual(found, wanted, what); checks += 1; };
const said = () => sent.splice(0);

// Nothing is said before the connection stands; then one picture is asked for at a time.
check(socket.address, 'ws://glasshouse:1/secret/play', 'the connection has the secret of the page');
frame();
check(said(), [], 'no connection');
socket.onopen();
frame();
check(said(), [{ do: 'frame', known: [0, 0, 0], feelers: false }], 'a picture');
frame();
check(said(), [], 'the next picture waits for the answer');
answer(first);
frame();
check(said()[0].known, [first.version, first.tick, first.events.count], 'the page says what it knows');

// The actor is drawn between its last two ticks.
const half = { ...moving, fraction: 0.5 };
answer(half);
const [row, before] = moving.rows[moving.actor];
const [x, y] = value('rowNow(now.actor)');
assert.ok(Math.abs(x - (row[0] + before[0]) / 2) < 1e-9 && Math.abs(y - (row[1] + before[1]) / 2) < 1e-9);
check(x === row[0], false, 'it moves');
const drawn = (name) => element('live').children.filter((child) => child.name === name).length;
check(drawn('rect') + drawn('circle') >= still.actors.length, true, 'every actor is drawn');
check(element('events').children.length, value('events').length, 'what happened');
check(element('events').children.length > 0, true, 'something happened');
check(element('state').children.map((line) => line.children[0].textContent).includes('velocity'), true, 'the state');

// Its ghost is a dashed outline, and the figures say what the file has.
const outlines = () => element('live').children.filter((child) => child.attributes.class === 'ghost').length;
check(outlines(), 0, 'no ghost');
answer(tuned);
check(outlines(), 1, 'a ghost');
check(element('feel').children.some((line) => line.children[1].textContent.includes('(file: ')), true, 'figures of the file');
said();

// Keys go out as they happen, once, and not from a field.
const press = (code, target = made('div'), key = code) => {
  document.listeners.keydown({ code, key, target, preventDefault() {} });
};
press('ArrowRight');
press('ArrowRight');
document.listeners.keyup({ code: 'ArrowRight' });
check(said(), [{ do: 'key', key: 'right', down: true }, { do: 'key', key: 'right', down: false }], 'a key');
press('KeyD', { ...made('input'), type: 'number' });
check(said(), [], 'a field keeps its keys');
press('ArrowLeft', { ...made('input'), type: 'range' });
check(said(), [], 'a slider keeps its arrows');
press('KeyD', { ...made('input'), type: 'range' }, 'd');
check(said(), [{ do: 'key', key: 'right', down: true }], 'letters move the actor');
listeners.blur();
check(said(), [{ do: 'release_all' }], 'a page that loses the keys lets go');
press('Period', undefined, '.');
press('Space', undefined, ' ');
check(said(), [{ do: 'step' }, { do: 'pause', paused: !tuned.paused }], 'commands');

// A stick is said when it moves, its cross is keys.
pad.axes = [0.5, -0.25];
frame();
pad.buttons[14].pressed = true;
answer(tuned);
frame();
const moves = said().filter((message) => message.do !== 'frame');
check(moves, [{ do: 'stick', to: [0.5, -0.25] }, { do: 'key', key: 'left', down: true }], 'a gamepad');

// A slider that is dragged is one change.
const [slider] = element('numbers').children[0].children.filter((child) => child.type === 'range');
slider.value = 70;
slider.listeners.input();
slider.value = 71;
slider.listeners.input();
slider.listeners.change();
const way = tuned.numbers.list[0][0];
check(said(), [70, 71].map((wanted, place) => ({ do: 'number', way, value: wanted, goes_on: place > 0 })), 'a slider');

// A drag is said in the units of the world, with the time that it took.
answer({ ...tuned, hand: { flicks: true, shoots: false, holds_ball: false } });
const pointer = (clientX, clientY) => ({ clientX, clientY, button: 0, pointerId: 1, target: made('svg') });
const world = (px, py) => [(px - still.origin[0]) / still.scale[0], (py - still.origin[1]) / still.scale[1]]
  .map((part) => Math.round(part * 100) / 100);
element('view').listeners.pointerdown(pointer(100, 60));
clock = 150;
element('view').listeners.pointermove(pointer(180, 90));
frame();
check(said().find((message) => message.do === 'frame').drag, { from: world(100, 60), to: world(180, 90), seconds: 0.15 }, 'a drag');
clock = 200;
element('view').listeners.pointerup(pointer(200, 100));
check(said(), [{ do: 'flick', from: world(100, 60), to: world(200, 100), seconds: 0.2 }], 'a flick');

// Names from a file are text; another page, the end, and a tool that is gone are said.
answer({ refused: 'no such thing' });
check(element('message').textContent.includes('no such thing'), true, 'a refusal');
socket.onclose();
check(element('veil-text').textContent.includes('does not answer'), true, 'a tool that is gone');
vm.runInContext('connect()', context);
socket.onopen();
check(value('known'), [0, 0, 0], 'all is asked for anew');
answer({ taken: true });
check([socket.closed, element('take').hidden], [true, false], 'another page is in control');
console.log(`${checks} checks of the page of a play`);
