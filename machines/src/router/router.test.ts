import { Bit, Machine } from '@kerbe/core/job';
import { describe, expect, it } from 'vitest';
import type { Controller } from '../controller/controller.ts';
import { router as made } from '../kinds.ts';
import type { RouterHead } from './head.ts';
import { BARE, NOSE_HEIGHT, type World } from './world.ts';

type Router = Controller<RouterHead>;

const v60 = Bit.parse({ kind: 'v', id: 'v60', angle: 60, diameter: 12.7 });
const board = { x: 100, y: 100, width: 60, height: 40, thickness: 18 };
const STICK_OUT = 40;

function bench(settings: Partial<World['settings']> = {}): Router {
  return made({ ...BARE, board, bit: { shape: v60, stickOut: STICK_OUT }, cell: 0.1, ...settings }, Machine.parse({}));
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
  router.offsets.all[0] = [board.x, board.y, z];
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
    const { map } = router.head.world;
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

  it('a stop does not clear an alarm or an emergency stop', () => {
    for (const trouble of [(router: Router) => router.hitLimit(1), (router: Router) => (router.setEstop(true), router.setEstop(false))]) {
      const router = zeroed(homed({ board: null }));
      send(router, 'G1 X200 F6000');
      router.advance(0.5);
      trouble(router);
      const before = router.status();
      expect(router.stop()).toBeNull();
      router.advance(0.5);
      expect(router.status()).toMatchObject({ state: before.state, message: before.message, machine: before.machine, queued: 0 });
      expect(router.home()).toMatch(/clear the alarm first/);
      expect(router.clear()).toBeNull();
      expect(router.home()).toBeNull();
    }
  });

  it('stands still at once on the emergency stop and refuses everything until it is cleared', () => {
    const router = zeroed(homed({ board: null }));
    send(router, 'S12000 M3', 'G1 X200 F6000');
    router.advance(0.5);
    router.setEstop(true);
    const at = router.status().machine;
    router.advance(1);
    expect(router.status().machine).toEqual(at);
    expect(router.status().spindle).toEqual({ target: 0, actual: 0, power: true });
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
    expect(router.head.world.map!.deepest).toBe(0);
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
    expect(router.status().spindle!.actual).toBe(6000);
    router.advance(4);
    expect(router.status().spindle!.actual).toBe(24000);
  });

  it('notices a bit pushed into wood with the spindle still', () => {
    const router = zeroed(homed());
    send(router, 'G0 Z5', 'G0 X10 Y10', 'G1 Z-2 F300');
    run(router);
    expect(router.status().message).toMatch(/stood still/);
  });

  it('scratches with a drag diamond: as wide as its line, hardly deep however far it is pressed, spindle off', () => {
    const drag = Bit.parse({ kind: 'drag', id: 'd', diameter: 6, lineWidth: 0.5 });
    const router = zeroed(homed({ bit: { shape: drag, stickOut: STICK_OUT } }));
    send(router, 'G21 G90', 'M5', 'G0 Z5', 'G0 X10 Y20', 'G1 Z-2.5 F600', 'G1 X50 F1200', 'G0 Z5');
    run(router);
    expect(router.head.world.crash).toBeNull();
    const { map } = router.head.world;
    expect(map!.at(30, 20.1)).toBeCloseTo(-0.05, 6);
    expect(map!.at(30, 20.4)).toBe(0);
  });

  it('notices a drag diamond pressed on the board with the spindle turning', () => {
    const drag = Bit.parse({ kind: 'drag', id: 'd', diameter: 6 });
    const router = zeroed(homed({ bit: { shape: drag, stickOut: STICK_OUT } }));
    send(router, 'G21 G90', 'S8000 M3', 'G4 P5', 'G0 Z5', 'G0 X10 Y20', 'G1 Z-2.5 F600', 'G1 X50 F1200');
    run(router);
    expect(router.head.world.crash).toMatch(/drag diamond/);
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

  it('refuses lengths from a table it does not keep, and offsets set from afar', () => {
    const router = zeroed(homed());
    expect(send(router, 'G43 H2')[0]).toMatch(/no table of tool lengths/);
    expect(send(zeroed(homed()), 'G10 L2 P1 X5')[0]).toMatch(/G10 L20/);
  });
  it('drills by a canned cycle as deep as it says, and comes out', () => {
    const router = zeroed(homed());
    expect(send(router, 'G21 G90 S18000 M3', 'G4 P5', 'G0 Z5', 'F600', 'G98 G83 X30 Y20 Z-6 R1 Q2.5', 'G80')).toEqual([null, null, null, null, null, null]);
    run(router);
    expect(router.head.world.map!.at(30.05, 20.05)).toBeLessThan(-5.8);
    expect(router.status().work[2]).toBeCloseTo(5, 6);
  });

  describe('overrides', () => {
    const speedOf = (router: Router, override: number) => {
      send(router, 'G21 G90', 'S18000 M3', 'G4 P5', 'G0 Z5', 'G0 X0 Y-40', 'G1 X1000 F3000');
      for (let t = 0; t < 12; t += 0.05) router.advance(0.05);
      expect(router.status().speed).toBeCloseTo(50, 3);
      expect(router.setOverride(override, 1)).toBeNull();
      let steepest = 0;
      let before = router.status().speed;
      for (let t = 0; t < 2; t += 0.01) {
        router.advance(0.01);
        const { speed } = router.status();
        steepest = Math.max(steepest, Math.abs(speed - before) / 0.01);
        before = speed;
      }
      // Never faster in changing speed than its slowest axis can brake.
      expect(steepest).toBeLessThan(Math.max(...router.limits.acceleration) * 1.05);
      return router.status().speed;
    };
    it('takes half the feed at 50 %, without a jerk', () => expect(speedOf(zeroed(homed()), 0.5)).toBeCloseTo(25, 3));
    it('takes twice the feed at 200 %', () => expect(speedOf(zeroed(homed()), 2)).toBeCloseTo(100, 3));
    it('never exceeds the axis', () => {
      const router = zeroed(homed());
      send(router, 'G21 G90', 'G0 Z5', 'G0 X0 Y-40');
      run(router);
      send(router, 'G1 X1100 F9000');
      router.setOverride(2, 1);
      let fastest = 0;
      for (let t = 0; t < 12; t += 0.05) {
        router.advance(0.05);
        fastest = Math.max(fastest, router.status().speed);
      }
      expect(fastest * 60).toBeCloseTo(10_000, 0);
    });
    it('turns the spindle by its share, and refuses what it cannot', () => {
      const router = zeroed(homed());
      send(router, 'S16000 M3', 'G4 P6');
      run(router);
      router.setOverride(1, 0.5);
      for (let t = 0; t < 5; t += 0.1) router.advance(0.1);
      expect(router.status().spindle!.actual).toBe(8000);
      router.setOverride(1, 1.5);
      for (let t = 0; t < 8; t += 0.1) router.advance(0.1);
      expect(router.status().spindle!.actual).toBe(24_000);
      expect(router.setOverride(0, 1)).toMatch(/10 to 200/);
      expect(router.setOverride(1, 3)).toMatch(/50 to 150/);
    });
  });

  describe('jogging on', () => {
    it('goes on until it is ended, and stands within its braking way', () => {
      const router = homed();
      expect(router.startJog([1, 0, 0], 6000)).toBeNull();
      for (let t = 0; t < 1; t += 0.05) router.advance(0.05);
      const { machine, speed } = router.status();
      expect(speed).toBeCloseTo(100, 3);
      router.endJog();
      run(router);
      // v²/2a with the slowest axis's brake. (Derived.)
      expect(router.status().machine[0] - machine[0]).toBeLessThan((speed * speed) / 2 / 500 + 1);
      expect(router.status().state).toBe('idle');
    });
    it('stops at the end of its travel by itself, and refuses to go beyond', () => {
      const router = homed();
      expect(router.startJog([0, 1, 0], 6000)).toBeNull();
      run(router);
      expect(router.status().machine).toEqual([0, router.limits.travel[1], 0]);
      expect(router.startJog([0, 1, 0], 6000)).toMatch(/end of its travel/);
      expect(router.startJog([0, 0, 0], 600)).toMatch(/direction/);
    });
    it('is refused before homing', () => expect(bench().startJog([1, 0, 0], 600)).toMatch(/home it first/));
  });

  it('keeps several work offsets apart', () => {
    const router = zeroed(homed());
    send(router, 'G53 G0 X300 Y200', 'G10 L20 P2 X0 Y0', 'G55', 'G0 X10 Y10');
    run(router);
    expect(router.status().machine.slice(0, 2)).toEqual([310, 210]);
    expect(router.status().workOffset).toBe('G55');
    send(router, 'G54', 'G0 X5 Y6');
    run(router);
    expect(router.status().machine.slice(0, 2)).toEqual([board.x + 5, board.y + 6]);
    expect(send(router, 'G10 L20 P12 X0')[0]).toMatch(/9 work offsets/);
  });

  describe('probing from the side', () => {
    const e6 = Bit.parse({ kind: 'end', id: 'e6', diameter: 6 });
    const block = { corner: 'lower-left', size: 50, lip: 12, thickness: 20 } as const;
    it('touches the lip of a corner block at radius and lip from the edge', () => {
      const router = zeroed(homed({ bit: { shape: e6, stickOut: STICK_OUT }, block }));
      send(router, 'G21 G90', 'G53 G0 Z0', 'G0 X-30 Y10', 'G0 Z10', 'G91', 'G38.2 X40 F300', 'G90');
      run(router);
      const { probe } = router.status();
      expect(probe?.touched).toBe(true);
      // X0 = contact + (r + lip). (Common practice.)
      expect(probe!.position[0] + 3 + 12).toBeCloseTo(board.x, 2);
    });
    it('touches its top exactly', () => {
      const router = zeroed(homed({ bit: { shape: e6, stickOut: STICK_OUT }, block }));
      send(router, 'G21 G90', 'G53 G0 Z0', 'G0 X20 Y20', 'G91', 'G38.2 Z-100 F300', 'G90');
      run(router);
      expect(router.status().probe!.position[2] - router.offsets.all[0][2]).toBeCloseTo(20, 6);
    });
    it('goes on into the board when the wire is off, and says so', () => {
      const router = zeroed(homed({ bit: { shape: e6, stickOut: STICK_OUT }, block }));
      router.head.faults['probe-wire'] = true;
      send(router, 'G21 G90', 'G53 G0 Z0', 'G0 X20 Y20', 'G91', 'G38.2 Z-100 F300', 'G90');
      run(router);
      expect(router.status()).toMatchObject({ state: 'alarm', message: expect.stringMatching(/wire whole/) });
    });
  });

  describe('what can go wrong', () => {
    const cutting = ['G21 G90', 'S18000 M3', 'G4 P5', 'G0 Z5', 'G0 X10 Y20', 'G1 Z-2 F600', 'G1 X50 F1200', 'G0 Z5', 'M5'];
    const cut = (settings: Partial<World['settings']>) => {
      const router = zeroed(homed(settings));
      const answers = send(router, ...cutting);
      run(router);
      return { router, refused: answers.find((why) => why !== null) ?? null };
    };
    it('a clamp in the way is run into; one beside is not', () => {
      const clamp = { x: board.x + 30, y: board.y + 20, width: 20, depth: 10, height: 40 };
      expect(cut({ clamps: [clamp] }).router.message).toMatch(/clamp/);
      expect(cut({ clamps: [{ ...clamp, y: board.y + 45 }] }).router.message).toBe('');
    });
    it('the vacuum is off: the board moves', () => {
      expect(cut({ vacuumHeld: true }).router.message).toMatch(/vacuum is off/);
      expect(cut({ vacuumHeld: true, vacuum: true }).router.message).toBe('');
    });
    it('a bottomed shank creeps up and the rest is cut shallower; too little held comes out', () => {
      const { router } = cut({ bit: { shape: v60, stickOut: STICK_OUT, seating: 'bottomed' } });
      expect(router.head.world.settings.bit!.stickOut).toBe(STICK_OUT - 1.5);
      expect(router.head.world.map!.at(40, 20.01)).toBeGreaterThan(-1);
      expect(cut({ bit: { shape: v60, stickOut: STICK_OUT, seating: 'short' } }).router.message).toMatch(/came out of the collet/);
    });
    it('pins that are still up are hit beside the board', () => {
      const router = zeroed(homed({ pinsUp: true }));
      send(router, 'G21 G90', 'G0 Z5', 'G0 X-30 Y20', 'G0 X10');
      run(router);
      expect(router.message).toMatch(/location pin/);
    });
    it('the spindle does not turn with the lid open, nor without its own power', () => {
      expect(cut({ lidOpen: true }).refused).toMatch(/lid is open/);
      expect(cut({ spindlePower: false }).router.message).toMatch(/spindle stood still/);
    });
    it('a slow spindle shows in its speed', () => {
      const router = zeroed(homed());
      router.head.faults['slow-spindle'] = true;
      send(router, 'S20000 M3', 'G4 P8');
      run(router);
      expect(router.status().spindle).toMatchObject({ target: 20_000, actual: 12_000 });
    });
    it('a reset forgets where it is, its lines and its offsets, and is counted', () => {
      const router = zeroed(homed());
      send(router, 'G0 X5');
      router.reset();
      expect(router.status()).toMatchObject({ homed: false, boot: 2, expected: 1, queued: 0, offset: [0, 0, 0] });
    });
    it('is drawn straight up out of its groove with the spindle still, wherever it stopped', () => {
      for (let k = 0; k < 12; k++) {
        const router = zeroed(homed());
        send(router, ...cutting.slice(0, 6), `G1 X${(20 + k * 0.037).toFixed(3)} F1200`, 'M5', 'G4 P5', 'G53 G0 Z0');
        run(router);
        expect(router.message).toBe('');
      }
    });
    it('says why it stands before it says which line it wants', () => {
      const router = zeroed(homed());
      send(router, 'G0 X1');
      router.hitLimit(0);
      expect(router.accept(2, 'G0 X2')).toMatch(/alarm.*limit switch/);
    });
    it('lost steps carve beside the line', () => {
      const router = zeroed(homed());
      router.head.world.slip = [0, 5, 0];
      send(router, ...cutting);
      run(router);
      expect(router.head.world.map!.at(30, 25.01)).toBeLessThan(-1.9);
      expect(router.head.world.map!.at(30, 20.01)).toBe(0);
    });
  });
});
