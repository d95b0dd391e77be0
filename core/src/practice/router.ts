/** Exercises on the simulated router. */
import type { MachineStatus, SimulatedWorld } from '../link/index.ts';
import { looksAt, refused, told, wasRefused, type Look, type Moment, type Practised } from './judge.ts';

/** The board of the exercises, where it lies. */
export const BOARD = { x: 320, y: 240, width: 300, height: 160, thickness: 18 };
const V60 = {
  kind: 'v',
  id: 'practice-v',
  name: '60° V, for practice',
  angle: 60,
  diameter: 12.7,
  shank: 6.35,
  fluteLength: 16,
  flutes: 2,
  tipFlat: 0,
  tipRadius: 0,
};
const END6 = {
  kind: 'end',
  id: 'practice-end',
  name: 'end mill, 6.35 mm, for practice',
  diameter: 6.35,
  shank: 6.35,
  fluteLength: 25,
  flutes: 2,
  spiral: 'up',
  upLength: 5,
};
/** What an exercise begins from: nothing forgotten, nothing in the way. */
const TIDY = {
  estop: false,
  lidOpen: false,
  vacuum: false,
  vacuumHeld: false,
  dust: false,
  pinsUp: false,
  spindlePower: true,
  probeClip: false,
  plate: null,
  block: null,
  clamps: [],
  board: BOARD,
  bit: { shape: V60, stickOut: 40 },
};

/** Bits of the exercises, for the bench to fit. */
export const EXERCISE_BITS = [V60, END6] as const;

/** What a simulated router shows: exercises are done on nothing else. */
type RouterWorld = SimulatedWorld & Required<Omit<SimulatedWorld, 'table'>>;
type Shown = MachineStatus & Required<Pick<MachineStatus, 'spindle'>> & { world: RouterWorld };
const { now, once } = looksAt((status) => (status.spindle ? (status as Shown) : null));
/** How a bit that hands put in is held. */
function seatingOf(command: Moment['command']): string | undefined {
  const { bit } = (command?.do === 'bench' ? (command as { change?: { bit?: { seating?: string } | null } }).change : undefined) ?? {};
  return bit?.seating;
}
const crashed: Look = once(({ world }) => world.crash !== null);
const CRASH = { text: 'Something was hit. On a real machine that is a broken bit, or worse.', made: crashed };
const zeroed: Look = now((_, { machine }) => machine.setup.zeroXY !== null && !machine.setup.zeroXY.corner.startsWith('half') && machine.setup.zeroZ !== null);
/** Z went below the clearance while X or Y were still to go. */
const downFirst: Look = (trace) =>
  trace.some(({ machine: { status, setup } }, i) => {
    const before = trace[i - 1]?.machine.status;
    if (!status || !before || !setup.zeroXY || !setup.zeroZ) return false;
    const away = Math.hypot(status.work[0], status.work[1]) > 5;
    return away && status.work[2] < 3 && status.work[2] < before.work[2] - 0.5;
  });

export const ROUTER_EXERCISES: readonly Practised[] = [
  {
    id: 'home-and-zero',
    title: 'Home it, and set zero',
    brief:
      'The machine was just switched on. Home it, measure the bit, set X and Y at the front left corner, set Z with the touch plate on the board, and go to zero.',
    mistakes: [6, 8],
    scene: TIDY,
    homed: false,
    tasks: [
      { text: 'Home the machine', done: once(({ homed }) => homed) },
      { text: 'Measure the bit', done: now((_, { machine }) => machine.setup.bitReading !== null) },
      {
        text: 'Set X and Y at the front left corner of the board, to half a millimetre',
        done: now(({ offset }, { machine }) => machine.setup.zeroXY !== null && Math.hypot(offset[0] - BOARD.x, offset[1] - BOARD.y) < 0.5),
      },
      {
        text: 'Set Z on the top of the board with the plate',
        done: now((_, { machine }) => machine.setup.zeroZ?.datum === 'top' && machine.setup.zeroZ.with === 'plate'),
      },
      { text: 'Take plate and clip away', done: (trace) => zeroed(trace) && now(({ world }) => world.plate === null && !world.probeClip)(trace) },
      {
        text: 'Go to zero',
        done: (trace) => told('go-to-zero', true)(trace) && now(({ work, queued }) => queued === 0 && Math.hypot(work[0], work[1]) < 0.1)(trace),
      },
    ],
    slips: [
      CRASH,
      { text: 'You went down before the bit stood over zero: that puts a hole in the work.', made: downFirst },
      {
        text: 'You probed without the clip on the bit: nothing closes the circuit, and the bit is driven on.',
        made: once(({ state, probe }) => state === 'alarm' && probe?.touched === false),
      },
    ],
    lesson: 'Homing tells the machine where it is; zero tells it where the board is. Going to zero is always up, across, down to clearance.',
  },
  {
    id: 'corner-block',
    title: 'Touch a corner block',
    brief:
      'A straight bit is fitted. Measure it. Put the corner block on the front left corner, clip the wire on, and touch its top, its left and its front side. Turn the flutes by hand before each side.',
    mistakes: [6, 10],
    scene: { ...TIDY, bit: { shape: END6, stickOut: 36 } },
    homed: true,
    tasks: [
      { text: 'Measure the bit', done: once((_, { machine }) => machine.setup.bitReading !== null) },
      { text: 'Put the block on the corner, and the clip on the bit', done: once(({ world }) => world.block?.corner === 'lower-left' && world.probeClip) },
      { text: 'Touch its top', done: once((_, { machine }) => machine.setup.zeroZ?.with === 'block') },
      {
        text: 'Touch its two sides: X and Y are right to a tenth',
        done: now(({ offset }, { machine }) => machine.setup.zeroXY?.by === 'corner block' && Math.hypot(offset[0] - BOARD.x, offset[1] - BOARD.y) < 0.1),
      },
      { text: 'Take block and clip away', done: (trace) => zeroed(trace) && now(({ world }) => world.block === null && !world.probeClip)(trace) },
    ],
    slips: [
      CRASH,
      {
        text: 'X or Y was set, but not where the corner is: the radius of the bit and the lip of the block count, X0 = touch + (radius + lip).',
        made: now(({ offset }, { machine }) => machine.setup.zeroXY?.by === 'corner block' && Math.hypot(offset[0] - BOARD.x, offset[1] - BOARD.y) >= 0.1),
      },
    ],
    lesson: 'A corner block finds all three zeros. It needs the bit’s real radius, its own lip, and a corner that no clamp stands on.',
  },
  {
    id: 'bit-change',
    title: 'From the V to the straight bit',
    brief:
      'Measure the V, and set Z with it. Then change to the straight bit: spindle still, shank drawn back from the bottom of the collet, then measure it, so that Z0 stays where it is.',
    mistakes: [2, 3, 5],
    scene: TIDY,
    homed: true,
    tasks: [
      {
        text: 'Measure the V and set Z with the plate',
        done: once((_, { machine }) => machine.setup.bitFitted === 'practice-v' && machine.setup.zeroZ?.reading != null),
      },
      { text: 'Fit the straight bit', done: once(({ world }) => world.bit === 'practice-end') },
      { text: 'Measure it', done: now(({ world }, { machine }) => world.bit === 'practice-end' && machine.setup.bitFitted === 'practice-end') },
      {
        text: 'Z0 is still on the top of the board, to a twentieth',
        done: now(
          ({ offset, world }, { machine }) =>
            machine.setup.bitFitted === 'practice-end' &&
            world.board !== null &&
            machine.setup.bitReading !== null &&
            Math.abs(machine.setup.bitReading - offset[2] - (50 - world.board.thickness)) < 0.05,
        ),
      },
    ],
    slips: [
      CRASH,
      {
        text: 'The shank was pushed to the bottom of the collet, or too little of it was held: it creeps or comes out under load.',
        made: (trace) => trace.some(({ command }) => ['bottomed', 'short'].includes(seatingOf(command) ?? '')),
      },
      {
        text: 'You wanted the spindle before the new bit was measured.',
        made: refused('warm-up', ({ machine }) => machine.setup.bitReading === null),
      },
      {
        text: 'You wanted to measure the bit under the name of another. It was refused; a machine that cannot see its bit would have cut too deep or in the air.',
        made: (trace) =>
          trace.some(({ command, machine }) => command?.do === 'measure' && machine.status?.world?.bit != null && command.bit !== machine.status.world?.bit),
      },
    ],
    lesson: 'Every bit stands out of the collet by another length. Measured again, Z0 moves by exactly the difference; X and Y stay.',
  },
  {
    id: 'why-not',
    title: 'Why does it not move?',
    brief: 'Somebody was here before you. The machine refuses everything. Find out what holds it, clear it, and home the machine.',
    mistakes: [1],
    scene: { ...TIDY, estop: true },
    homed: false,
    tasks: [
      { text: 'Find the emergency stop and release it', done: now(({ estop }) => !estop) },
      { text: 'Clear the alarm', done: now(({ state }) => state !== 'estop' && state !== 'alarm') },
      { text: 'Home the machine', done: now(({ homed }) => homed) },
    ],
    slips: [
      {
        text: 'You tried three times without looking at what holds it: the refusal says it.',
        made: (trace) => trace.filter((moment) => wasRefused(moment) && moment.machine.status?.estop === true).length >= 3,
      },
    ],
    lesson: 'The emergency stop is looked at first, before cables, drives and programs. It is pressed at a bit change and forgotten.',
  },
  {
    id: 'clip',
    title: 'Something is still on the bit',
    brief: 'Z was probed a moment ago, by somebody in a hurry. Look at the machine, measure the bit, and let the spindle run warm for ten seconds.',
    mistakes: [6],
    scene: { ...TIDY, probeClip: true, plate: { x: 470, y: 320, thickness: 15 } },
    homed: true,
    tasks: [
      { text: 'Take clip and plate away', done: now(({ world }) => !world.probeClip && world.plate === null) },
      { text: 'Measure the bit', done: once((_, { machine }) => machine.setup.bitReading !== null) },
      { text: 'Let the spindle turn', done: once(({ spindle }) => spindle.actual > 1000) },
    ],
    slips: [
      {
        text: 'You asked for the spindle with the clip on the bit. It was refused; on a machine that cannot see the clip the wire would have been torn off.',
        made: refused('warm-up', ({ machine }) => machine.status?.world?.probeClip === true),
      },
    ],
    lesson: 'Plate, block, clip and magnet come off before anything turns. Look at the bit itself, not at the screen.',
  },
  {
    id: 'which-face',
    title: 'Top of the board, or spoilboard?',
    brief: 'The program to be run counts Z from the spoilboard. Set Z there with the plate - the plate lies beside the board, on the bed.',
    mistakes: [7],
    scene: TIDY,
    homed: true,
    tasks: [
      { text: 'Measure the bit', done: once((_, { machine }) => machine.setup.bitReading !== null) },
      {
        text: 'Lay the plate on the spoilboard, and the clip on the bit',
        done: once(({ world }) => world.plate !== null && !over(world.plate) && world.probeClip),
      },
      {
        text: 'Z0 is on the spoilboard, to a twentieth',
        done: now(
          ({ offset }, { machine }) =>
            machine.setup.zeroZ?.datum === 'spoilboard' && machine.setup.bitReading !== null && Math.abs(machine.setup.bitReading - offset[2] - 50) < 0.05,
        ),
      },
    ],
    slips: [
      CRASH,
      {
        text: 'Z was set for the other face. The program would cut a board’s thickness too deep, or into the air.',
        made: once((_, { machine }) => machine.setup.zeroZ?.datum === 'top'),
      },
      {
        text: 'The plate lay on the board and Z was called that of the spoilboard: everything would be cut a board’s thickness too high.',
        made: now(
          ({ offset }, { machine }) =>
            machine.setup.zeroZ?.datum === 'spoilboard' && machine.setup.bitReading !== null && Math.abs(machine.setup.bitReading - offset[2] - 50) >= 0.05,
        ),
      },
    ],
    lesson:
      'Both schools are right: on the spoilboard through cuts stay clean, on the top shallow carving stays even. Program and machine must mean the same face.',
  },
  {
    id: 'clamp',
    title: 'A clamp in the way',
    brief:
      'The bit stands low on the left of the board, and a step clamp stands between it and the right side. Bring the bit over the right end of the board and touch nothing.',
    mistakes: [8, 9],
    scene: { ...TIDY, clamps: [{ x: 470, y: 250, width: 40, depth: 70, height: 45 }] },
    homed: true,
    tasks: [
      {
        text: 'Come down over the left of the board, to less than 20 mm (3/4 in) above it',
        done: once(({ machine, world }) => heightAbove(machine, world) < 20 && machine[0] < 440),
      },
      {
        text: 'Come down over the right end, to less than 20 mm (3/4 in) above it',
        done: now(({ machine, world }) => heightAbove(machine, world) < 20 && machine[0] > 520),
      },
    ],
    slips: [{ ...CRASH, text: 'The bit ran into the clamp. Travel goes up first, and higher than what holds the board.' }],
    lesson:
      'Clamps belong on the drawing of the bed. Then Kerbe looks at every cut, every travel move and the frame; a person jogging by hand has only their eyes.',
  },
  {
    id: 'before-the-start',
    title: 'What is forgotten before the start',
    brief: 'A board lies on the vacuum, ready to be cut. Make everything ready that a start needs, then let the spindle turn.',
    mistakes: [13],
    scene: { ...TIDY, vacuumHeld: true, pinsUp: true, spindlePower: false },
    homed: true,
    tasks: [
      { text: 'Switch the vacuum on', done: now(({ world }) => world.vacuum) },
      { text: 'Put the location pins down', done: now(({ world }) => !world.pinsUp) },
      { text: 'Dust extraction on', done: now(({ world }) => world.dust) },
      { text: 'Switch the spindle’s box on', done: now(({ spindle }) => spindle.power) },
      { text: 'Measure the bit, and let the spindle turn', done: once(({ spindle }) => spindle.actual > 1000) },
    ],
    slips: [
      { text: 'The spindle turned before the vacuum held the board.', made: once(({ spindle, world }) => spindle.actual > 500 && !world.vacuum) },
      { text: 'The spindle turned with the location pins still up.', made: once(({ spindle, world }) => spindle.actual > 500 && world.pinsUp) },
      { text: 'The spindle turned without dust extraction.', made: once(({ spindle, world }) => spindle.actual > 500 && !world.dust) },
    ],
    lesson:
      'The same few things are forgotten every day. That is why they stand in the set-up card, and why the ones the machine can see are not left to memory.',
  },
  {
    id: 'recover',
    title: 'Recover from a stop',
    brief:
      'A limit switch was hit in the middle of the work, and the machine may have lost its place. Get it back to where it may cut: zero cannot be trusted.',
    mistakes: [1, 5, 8],
    scene: { ...TIDY, fault: { kind: 'limit', axis: 0 } },
    homed: true,
    tasks: [
      { text: 'Clear the alarm', done: now(({ state }) => state !== 'alarm' && state !== 'estop') },
      { text: 'Home it again', done: now(({ homed }) => homed) },
      { text: 'Measure the bit, set X, Y and Z again', done: (trace) => zeroed(trace) && now((_, { machine }) => machine.setup.bitReading !== null)(trace) },
      {
        text: 'Go to zero',
        done: (trace) => told('go-to-zero', true)(trace) && now(({ work, queued }) => queued === 0 && Math.hypot(work[0], work[1]) < 0.1)(trace),
      },
    ],
    slips: [CRASH, { text: 'You went down before the bit stood over zero.', made: downFirst }],
    lesson:
      'After a limit, an emergency stop in motion or a power loss the machine homes again, and every zero is touched again. Then a run goes on from a place you choose.',
  },
  {
    id: 'lid',
    title: 'Hands off while it turns',
    brief: 'Let the spindle run warm. While it turns, open the lid as if to look closer - and see what the machine does. Close it, and stop the spindle.',
    mistakes: [30],
    scene: TIDY,
    homed: true,
    tasks: [
      { text: 'Measure the bit, and let the spindle turn', done: once(({ spindle }) => spindle.actual > 1000) },
      { text: 'Open the lid: it holds', done: once(({ world, state }) => world.lidOpen && state === 'hold') },
      {
        text: 'Close the lid and stop',
        done: (trace) => told('stop', true)(trace) && now(({ world, spindle }) => !world.lidOpen && spindle.target === 0)(trace),
      },
    ],
    slips: [
      {
        text: 'The bit was reached for while the spindle turned.',
        made: refused('bench', ({ machine }) => (machine.status?.spindle?.actual ?? 0) > 0),
      },
    ],
    lesson:
      'A lid that holds the machine is a help, not a guard to rely on. Let it stop, let it come to rest, then reach in. Nobody leaves a machine that turns.',
  },
];

/** Height of the tip above the top of the board, mm, of a bit that stands 40 mm out. */
function heightAbove(machine: readonly number[], world: RouterWorld): number {
  return 150 + machine[2] - 40 - (world.board?.thickness ?? 0);
}

/** Is a place over the board of the exercises? */
function over({ x, y }: { x: number; y: number }): boolean {
  return x >= BOARD.x && y >= BOARD.y && x <= BOARD.x + BOARD.width && y <= BOARD.y + BOARD.height;
}
