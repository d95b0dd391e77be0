import { Bit, Machine } from '@kerbe/core/job';
import { describe, expect, it } from 'vitest';
import { Router } from './machine.ts';
import { NOSE_HEIGHT, World } from './world.ts';

const v60 = Bit.parse({ kind: 'v', id: 'v60', angle: 60, diameter: 12.7 });
const board = { x: 100, y: 100, width: 60, height: 40, thickness: 18 };
const STICK_OUT = 40;

function bench(settings: Partial<World['settings']> = {}): Router {
  return new Router(new World({ board, bit: { shape: v60, stickOut: STICK_OUT }, plate: null, probeClip: false, cell: 0.1, ...settings }), Machine.parse({}));
}
function homed(settings: Partial<World['settings']> = {}): Router {
  const router = bench(settings);
  expect(router.home()).toBeNull();
  run(router);
  return router;
}
function run(router: Router, seconds = 600): void {
  for (let t = 0; t < seconds && (t < 0.1 || router.busy || router.status().state === 'run'); t += 0.05) router.advance(0.05);
}
let seq = 0;
function send(router: Router, ...lines: string[]): (string | null)[] {
  if (router.status().expected === 1) seq = 0;
  return lines.map((line) => router.accept(++seq, line));
}
/** Work zero on the lower-left corner, top of the board. */
function zeroed(router: Router): Router {
  const z = board.thickness - NOSE_HEIGHT + STICK_OUT;
  router.offset = [board.x, board.y, z];
  router.restartLines();
  seq = 0;
  return router;
}

describe('the simulated router', () => {
  it('refuses to move before it is homed, and says why', () => {
    expect(send(bench(), 'G0 X1')[0]).toMatch(/home it first/);
  });

  it('homes Z before X and Y, onto its switches', () => {
    const router = bench();
    router.home();
    router.advance(0.3);
    const [x, , z] = router.status().machine;
    expect(z).toBeGreaterThan(-26);
    expect(x).toBeCloseTo(481, 0);
    run(router);
    expect(router.status().machine).toEqual([0, 0, 0]);
  });

  it('carves exactly the groove of a V bit: w = 2·h·tan(A/2)', () => {
    const router = zeroed(homed());
    send(router, 'G21 G90', 'S18000 M3', 'G4 P5', 'G0 Z5', 'G0 X10 Y20', 'G1 Z-3 F600', 'G1 X50 F1200', 'G0 Z5', 'M5');
    run(router);
    const { map } = router.world;
    expect(router.status().state).toBe('idle');
    // The cell centre lies 0.05 beside the line.
    expect(map!.at(30, 20.01)).toBeCloseTo(-3 + 0.05 * Math.sqrt(3), 4);
    const half = 3 * Math.tan(Math.PI / 6); // 60°: h = 3 -> w = 3.464
    expect(map!.at(30, 20 + half - 0.1)).toBeLessThan(0);
    expect(map!.at(30, 20 + half + 0.1)).toBe(0);
  });

  it('takes as long as the motion planner says', () => {
    const router = zeroed(homed({ board: null }));
    send(router, 'G1 X100 F6000');
    let t = 0;
    while (router.busy || t === 0) {
      router.advance(0.001);
      t += 0.001;
    }
    // Rest to rest: d/v + v/a with v = 100 mm/s; the axis starts at machine 0, target is 100 + offset.
    const d = 100 + 100;
    expect(t).toBeCloseTo(d / 100 + 100 / 900, 2);
  });

  it('stops short of its soft limits before it moves', () => {
    const router = zeroed(homed());
    expect(send(router, 'G0 X1290')[0]).toMatch(/X would go to 1390/);
    expect(router.status().state).toBe('alarm');
    expect(router.status().machine).toEqual([0, 0, 0]);
  });

  it('holds on its path and goes on from there', () => {
    const router = zeroed(homed({ board: null }));
    send(router, 'G1 X200 F6000');
    router.advance(0.5);
    expect(router.hold()).toBeNull();
    router.advance(0.5);
    const [x] = router.status().machine;
    router.advance(2);
    expect(router.status().machine[0]).toBe(x);
    expect(router.resume()).toBeNull();
    run(router);
    expect(router.status().machine[0]).toBeCloseTo(300, 9);
  });

  it('forgets its queue on stop and stands still', () => {
    const router = zeroed(homed({ board: null }));
    send(router, 'G1 X200 F6000', 'G1 Y100');
    router.advance(0.5);
    router.stop();
    run(router, 5);
    expect(router.status()).toMatchObject({ state: 'idle', queued: 0 });
    expect(router.status().machine[0]).toBeLessThan(290);
  });

  it('stands still at once on the emergency stop and refuses everything until it is cleared', () => {
    const router = zeroed(homed({ board: null }));
    send(router, 'S12000 M3', 'G1 X200 F6000');
    router.advance(0.5);
    router.setEstop(true);
    const at = router.status().machine;
    router.advance(1);
    expect(router.status().machine).toEqual(at);
    expect(router.status().spindle).toEqual({ target: 0, actual: 0 });
    expect(send(router, 'G0 X0')[0]).toMatch(/emergency stop is pressed/);
    expect(router.clear()).toMatch(/still pressed/);
    router.setEstop(false);
    expect(router.home()).toMatch(/clear the alarm/);
    expect(router.clear()).toBeNull();
    // It stopped while moving: steps may be lost, so it must be homed again.
    expect(router.status().homed).toBe(false);
  });

  it('probes the plate to a hundredth', () => {
    const router = homed({ plate: { x: 110, y: 110, thickness: 12.5 } });
    send(router, 'G53 G0 X110 Y110', 'G91 G38.2 Z-120 F200', 'G90');
    run(router);
    expect(router.status().probe).toMatchObject({ touched: true });
    expect(router.status().probe!.position[2]).toBeCloseTo(18 + 12.5 - NOSE_HEIGHT + STICK_OUT, 3);
  });

  it('says so when there is no plate under the bit, and does not dig in', () => {
    const router = homed();
    send(router, 'G53 G0 X110 Y110', 'G91 G38.2 Z-125 F200');
    run(router);
    expect(router.status()).toMatchObject({ state: 'alarm' });
    expect(router.status().message).toMatch(/plate/);
    expect(router.world.map!.deepest).toBe(0);
  });

  it('will not turn the spindle with the clip on the bit', () => {
    const router = homed({ probeClip: true });
    expect(send(router, 'S1000 M3')[0]).toMatch(/clip/);
  });

  it('brings the spindle up to speed over its stated time', () => {
    const router = homed();
    send(router, 'S24000 M3');
    router.advance(1e-6);
    router.advance(1);
    expect(router.status().spindle.actual).toBe(6000);
    router.advance(4);
    expect(router.status().spindle.actual).toBe(24000);
  });

  it('notices a bit pushed into wood with the spindle still', () => {
    const router = zeroed(homed());
    send(router, 'G0 Z5', 'G0 X10 Y10', 'G1 Z-2 F300');
    run(router);
    expect(router.status().message).toMatch(/stood still/);
  });

  it('notices a rapid into the board', () => {
    const router = zeroed(homed());
    send(router, 'S18000 M3', 'G4 P5', 'G0 Z5', 'G0 X10 Y10', 'G0 Z-2');
    run(router);
    expect(router.status().message).toMatch(/rapid/);
  });

  it('refuses a broken line and a line out of turn', () => {
    const router = zeroed(homed());
    expect(router.accept(1, 'G1 X1..2 F100')).toMatch(/Line 1/);
    expect(router.accept(7, 'G0 X1')).toBe('expected line 1, got 7');
  });
});
