// The script of a report's page, run on the page's own data with just as much of a document as it asks for.
//
// node cli/tests/page.mjs PAGE.html
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import vm from 'node:vm';
import { page as documentOf } from './dom.mjs';

const html = readFileSync(process.argv[2], 'utf8');
const data = html.match(/<script id="data" type="application\/json">([\s\S]*?)<\/script>/)[1];
const script = html.match(/<script>([\s\S]*?)<\/script>/)[1];

const document = documentOf(data);
let clock = 0;
const frames = [];
const context = vm.createContext({
  document,
  performance: { now: () => clock },
  requestAnimationFrame: (frame) => frames.push(frame),
  cancelAnimationFrame: () => { frames.length = 0; },
});
vm.runInContext(script, context);
const value = (words) => JSON.parse(JSON.stringify(vm.runInContext(words, context) ?? null));
const run = JSON.parse(data);
const last = run.times.length - 1;
const element = (id) => document.getElementById(id);
let checks = 0;
const check = (found, wanted, what) => { assert.deepEqual(found, wanted, what); checks += 1; };

// The page opens at the first tick, with one line for each event and each expectation.
check(value('tick'), 0, 'the first tick is shown');
check(element('events').children.length, run.events.length, 'events');
check(element('expected').children.length, run.expected.length, 'expectations');
check(Number(element('slider').max), last, 'the slider ends at the last tick');

// World to map and back.
for (const [x, y] of [[0, 0], [10, -3], [123.25, 7]]) {
  const [px, py] = value(`at(${x}, ${y})`);
  assert.ok(Math.abs((px - run.origin[0]) / run.scale[0] - x) < 1e-9 && Math.abs((py - run.origin[1]) / run.scale[1] - y) < 1e-9);
  check(value(`at(${x}, ${y})`), value(`way(${x}, ${y})`).map((part, axis) => part + run.origin[axis]), 'at is way from the origin');
}

// The last entry that is not later than now: none before the first, the last after all, the later of two at once.
const list = '[[0, "a"], [1, "b"], [1, "c"], [2.5, "d"]]';
for (const [time, wanted] of [[-1, null], [0, 'a'], [0.99, 'a'], [1, 'c'], [2, 'c'], [2.5, 'd'], [99, 'd']]) {
  check(value(`(latest(${list}, ${time}) || [0, null])[1]`), wanted, `latest at ${time}`);
}
check(value('latest([], 3)'), null, 'nothing of nothing');

// The first tick at which a time is past, for the instant of every tick, between any two, and beyond the end.
run.times.forEach((time, tick) => {
  assert.equal(value(`tickOf(${time})`), tick);
  if (tick < last) assert.equal(value(`tickOf(${(time + run.times[tick + 1]) / 2})`), tick + 1);
});
check(value('tickOf(1e9)'), last, 'beyond the end is the end');
check(value('tickOf(-5)'), 0, 'before the start is the start');

// What is shown stays within the run; the text says which tick it is, and events up to it are no longer to come.
for (const [wanted, shown] of [[-7, 0], [3, 3], [last, last], [last + 50, last]]) {
  vm.runInContext(`show(${wanted})`, context);
  check(value('tick'), shown, `show ${wanted}`);
  check(element('time').textContent, `${run.times[shown].toFixed(3)} s, tick ${shown}`, 'the time that is shown');
  const later = element('events').children.filter((item) => item.classList.has('later')).length;
  check(later, run.events.filter((event) => event.time > run.times[shown] + 1e-9).length, 'events to come');
  assert.ok(element('actors').innerHTML.includes(run.actors[0].name.replace(/&/g, '&amp;')));
}

// A click on an event shows the tick at which it is past; the arrows go one tick on and back, the chart by its time.
run.events.forEach((event, place) => {
  element('events').children[place].listeners.click();
  assert.equal(value('tick'), value(`tickOf(${event.time})`));
});
vm.runInContext('show(5)', context);
document.listeners.keydown({ key: 'ArrowRight', target: { tagName: 'BODY' } });
check(value('tick'), 6, 'on');
element('back').listeners.click();
element('back').listeners.click();
check(value('tick'), 4, 'back twice');
element('chart').listeners.click({ clientX: (run.chart[0] + run.chart[1]) / 2 });
check(value('tick'), value('tickOf(page.seconds / 2)'), 'the middle of the chart');

// Played at the pace that is chosen, from the tick that is shown to the end, where it stops.
vm.runInContext('show(0)', context);
element('pace').value = 2;
element('play').listeners.click();
check(element('play').textContent, 'pause', 'it plays');
clock = 500;
frames.shift()(clock);
check(value('tick'), Math.max(0, value('tickOf(1 + 1e-6)') - 1), 'half a second at twice the pace');
clock = 1e7;
frames.shift()(clock);
check([value('tick'), element('play').textContent], [last, 'play'], 'at the end it stops');

// Names from a file are text, not page.
vm.runInContext('page.actors[0].name = "<b>&"; drawActors()', context);
assert.ok(element('actors').innerHTML.includes('&lt;b&gt;&amp;') && !element('actors').innerHTML.includes('<b>'));
console.log(`${checks} checks of the page's script, ${run.times.length} ticks, ${run.events.length} events`);
