// The machine side under load: how soon Hold brakes, how many blocks and lines a second, how often a browser hears.
import { createHash } from 'node:crypto';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startStack } from './stack.mjs';

const row = (what, figure, aim) => console.log(`${what.padEnd(62)} ${figure.padStart(18)}   ${aim}`);
const wait = (ms) => new Promise((done) => setTimeout(done, ms));

/** Short moves well above the board, `step` mm each. */
const program = (lines, step, feed) =>
  [
    'G21 G90',
    'G0 Z5',
    ...Array.from({ length: lines - 3 }, (_, k) => {
      const there = Math.floor((k * step) / 250) % 2 === 0;
      const along = (k * step) % 250;
      const x = there ? along : 250 - along;
      return `G1 X${x.toFixed(3)} Y${(0.4 * Math.sin(x / 20)).toFixed(4)} F${feed}`;
    }),
    'M30',
  ].join('\n');

/** Somebody means harm: jobs of 100,000 things saved, releases planned, lists loaded, wrong sign-ins, all without pause. Gives how to end it. */
async function siege({ url }, cookie) {
  const wall = await (await fetch(`${url}/`, { headers: { cookie } })).text();
  const [, job] = /\/job\/([\w-]{36})/.exec(wall);
  const { revision, doc } = await (await fetch(`${url}/api/jobs/${job}`, { headers: { cookie } })).json();
  const ids = Array.from({ length: 100_000 }, (_, k) => `t${k}`);
  const items = Object.fromEntries(ids.map((id, k) => [id, { kind: 'ellipse', id, x: k % 300, y: 50, width: 1, height: 1 }]));
  const huge = JSON.stringify({ from: revision, label: 'x', doc: { ...doc, items, itemOrder: ids, outline: null, cuts: {}, cutOrder: [] } });
  const json = { cookie, origin: url, 'content-type': 'application/json' };
  let going = true;
  let saved = 0;
  const over = async (work) => {
    while (going)
      try {
        await work();
      } catch {
        await wait(50);
      }
  };
  const send = async (path, init) => (await fetch(url + path, init)).text();
  const wrong = () =>
    send('/sign-in', {
      method: 'POST',
      headers: { origin: url, 'content-type': 'application/x-www-form-urlencoded' },
      body: `email=p${Math.random()}@x.example&password=wrong-${Math.random()}`,
    });
  const noise = [
    over(async () => {
      await send(`/api/jobs/${job}`, { method: 'PUT', headers: json, body: huge });
      saved++;
    }),
    over(() => send(`/api/jobs/${job}/release`, { method: 'POST', headers: json, body: JSON.stringify({ revision, accepted: [] }) })),
    over(() => send('/logbook', { headers: { cookie } })),
    over(() => Promise.all(Array.from({ length: 20 }, wrong))),
  ];
  return async () => {
    going = false;
    await Promise.all(noise);
    return saved;
  };
}

/** Rows of dots on the laser, a tenth of a millimetre each at 3,000 mm/min: 500 lines a second, and 1,000 at twice the pace. */
async function benchDots({ until, must }, order) {
  const row10 = (k) =>
    Array.from({ length: 400 }, (_, i) => `X${(k % 2 ? 50 - 0.1 * (i + 1) : 10 + 0.1 * (i + 1)).toFixed(1)} S${(i * 7919 + k) % 3 ? 300 : 0}`);
  const rows = Array.from({ length: 16 }, (_, k) => [
    `G0 X${k % 2 ? 50 : 10} Y${(5 + 0.1 * k).toFixed(1)}`,
    ...row10(k).map((line, i) => (i ? line : `G1 ${line} F3000`)),
  ]);
  const text = ['G21 G90 G17', 'G53 G0 Z0', 'T1', 'M5', 'S0 M4', 'G0 Z0', ...rows.flat(), 'M5', 'G53 G0 Z0', 'M30'].join('\n');
  await until((now) => now.link);
  await must({ do: 'home' });
  await must({ do: 'bench', change: { lidOpen: false, key: true, air: true, extraction: true, rate: 20 } });
  await must({ do: 'bench', change: { board: { x: 200, y: 150, width: 80, height: 60, thickness: 3, material: 'birch ply' } } });
  await must({ do: 'bench', change: { bit: { shape: { kind: 'head', id: 'head1', watts: 10, diameter: 0.12 }, stickOut: 20 } } });
  await until(({ setup }) => setup.bitFitted === 'head1');
  await must({ do: 'move-over', x: 200, y: 150 });
  await must({ do: 'zero-xy', corner: 'lower-left' });
  await must({ do: 'zero-z', method: 'focus', thickness: 0, datum: 'top' });
  for (const rate of [1, 2]) {
    await must({ do: 'bench', change: { rate } });
    const asked = order(`dots${rate}`, text);
    await must({ ...asked, order: { ...asked.order, process: 'laser', bits: ['head1'], extents: { min: [0, 0, 0], max: [60, 10, 0] } } });
    await until(({ run }) => run?.state === 'paused' && run.pause?.reason === 'start');
    await must({ do: 'bench', change: { start: true } });
    const before = await until(({ run }) => run.line > 500);
    const began = performance.now();
    const after = await until(({ run }) => run.line > before.run.line + 4000);
    row('laser: dots a second, the motion never dry', ((4000 * 1000) / (performance.now() - began)).toFixed(0), String(500 * rate));
    row('times it ran dry meanwhile', String(after.status.dry - before.status.dry), '0');
    await until((now) => now.run.endedAt);
  }
}

export async function benchMachine() {
  const home = mkdtempSync(join(tmpdir(), 'kerbe-bench-'));
  chmodSync(home, 0o755);
  const stack = await startStack({ home });
  const closers = [];
  try {
    const signIn = await fetch(`${stack.url}/sign-in`, {
      method: 'POST',
      redirect: 'manual',
      headers: { origin: stack.url, 'content-type': 'application/x-www-form-urlencoded' },
      body: 'demo=owner',
    });
    const cookie = signIn.headers
      .getSetCookie()
      .map((text) => text.split(';')[0])
      .join('; ');
    let key = 0;
    const web = async (command, path = '/api/machines/simulated-router/command') =>
      (
        await (
          await fetch(stack.url + path, {
            method: 'POST',
            headers: { cookie, origin: stack.url, 'content-type': 'application/json', 'idempotency-key': `b${key++}` },
            body: JSON.stringify(command),
          })
        ).json()
      ).why;
    const direct = { authorization: `Bearer ${stack.token}`, 'x-kerbe-by': 'owner', 'x-kerbe-id': 'bench' };
    /** Straight to the agent of a machine. */
    const talkTo = (machine) => {
      const agent = async (command) =>
        (
          await (
            await fetch(`${stack.agentOf(machine)}/command`, {
              method: 'POST',
              headers: { ...direct, 'idempotency-key': `a${key++}` },
              body: JSON.stringify(command),
            })
          ).json()
        ).why;
      const state = async () => (await fetch(`${stack.agentOf(machine)}/state`, { headers: direct })).json();
      const until = async (what) => {
        for (;;) {
          const now = await state();
          if (what(now)) return now;
          await wait(20);
        }
      };
      const must = async (command) => {
        const why = await agent(command);
        if (why) throw new Error(`${JSON.stringify(command).slice(0, 120)}: ${why}`);
      };
      return { state, until, must };
    };
    const { state, until, must } = talkTo();
    const order = (id, text) => ({
      do: 'start',
      order: {
        id,
        name: `${id}.nc`,
        sha256: 'x',
        program: text,
        textSha256: createHash('sha256').update(text).digest('hex'),
        bits: ['v'],
        datum: { corner: 'lower-left', z: 'top' },
        extents: { min: [0, 0, 0], max: [250, 1, 5] },
      },
    });
    await until((now) => now.link);
    await must({ do: 'bench', change: { rate: 200, bit: { shape: { kind: 'v', id: 'v', angle: 60, diameter: 12.7 }, stickOut: 40 } } });
    await must({ do: 'home' });
    await must({ do: 'measure', bit: 'v' });
    await must({ do: 'move-over', x: 300, y: 300 });
    await must({ do: 'zero-xy', corner: 'lower-left' });
    await must({ do: 'jog', x: 0, y: 0, z: -60, feed: 4000 });
    await until((now) => now.status.state === 'idle');
    await must({ do: 'zero-z', method: 'paper', thickness: 10, datum: 'top' });
    await must({ do: 'bench', change: { rate: 1 } });

    // Ten browsers watch.
    let heard = 0;
    for (let k = 0; k < 10; k++) {
      const control = new AbortController();
      closers.push(() => control.abort());
      void (async () => {
        const response = await fetch(`${stack.url}/api/machines/events?machine=simulated-router`, { headers: { cookie }, signal: control.signal });
        const decoder = new TextDecoder();
        for await (const chunk of response.body) heard += decoder.decode(chunk, { stream: true }).split('data: ').length - 1;
      })().catch(() => {});
    }

    // Hold, pressed over and over with a program streaming. Going on is no matter of milliseconds: that goes straight to the agent.
    const held = async (title) => {
      const late = [];
      for (let k = 0; k < 200; k++) {
        await wait(20 + Math.random() * 60);
        const pressed = Date.now();
        const why = await web({ do: 'hold' }, '/api/machines/simulated-router/hold');
        if (why) throw new Error(why);
        const { status } = await state();
        late.push(status.brakedAt - pressed);
        await must({ do: 'resume' });
        await until((now) => now.status.state === 'run');
      }
      late.sort((a, b) => a - b);
      row(`Hold pressed to the machine braking, ${title}, p50`, `${late[100]} ms`, '');
      row('the same, p99 of 200', `${late[197]} ms`, '<= 150 ms');
    };
    await must(order('hold', program(60_000, 0.1, 3000)));
    await until((now) => now.run.line > 50);
    await held('ten browsers watching');
    const noise = await siege(stack, cookie);
    await wait(3000);
    await held('the server under siege');
    row('jobs of 100,000 things saved meanwhile', String(await noise()), '');

    // States a browser hears while it moves.
    const [h0, t0] = [heard, performance.now()];
    await wait(4000);
    row('states to each of ten browsers a second', ((heard - h0) / 10 / ((performance.now() - t0) / 1000)).toFixed(1), '10');
    await web({ do: 'stop' });
    await until((now) => now.run.endedAt && now.status.state === 'idle');

    // 500 short blocks a second in real time: 0.1 mm at a little more than 3000 mm/min.
    await must(order('blocks', program(6_000, 0.1, 3200)));
    await until((now) => now.run.line > 500);
    const before = await state();
    const began = performance.now();
    const after = await until((now) => now.run.line > before.run.line + 4000);
    row('short blocks a second, the motion never dry', ((4000 * 1000) / (performance.now() - began)).toFixed(0), '500');
    row('times it ran dry meanwhile', String(after.status.dry - before.status.dry), '0');
    await until((now) => now.run.endedAt);

    await benchDots(talkTo('simulated-laser'), order);

    // As fast as lines go through agent and link: the machine takes them as fast as they come.
    await must({ do: 'bench', change: { rate: 1000 } });
    const text = program(60_000, 0.1, 3000);
    const first = performance.now();
    await must(order('lines', text));
    await until((now) => now.run.endedAt);
    row('lines a second through agent and link', ((60_000 * 1000) / (performance.now() - first)).toFixed(0), '2000');
  } finally {
    for (const close of closers) close();
    await stack.stop();
    rmSync(home, { recursive: true, force: true });
  }
}

if (process.argv[1] === import.meta.filename) await benchMachine();
