/** Exercises in the simulated laser. */
import type { MachineStatus, SimulatedWorld } from '../link/index.ts';
import { began, looksAt, ran, type Practised } from './judge.ts';

/** The sheet of the exercises, where it lies. */
const SHEET = { x: 100, y: 100, width: 120, height: 80, thickness: 3, material: 'birch ply' };
export const PRACTICE_HEAD = { kind: 'head', id: 'practice-head', name: 'diode head, for practice' };
/** A sheet that must never meet the beam. */
const FORBIDDEN = 'PVC foam';

const TIDY = {
  estop: false,
  lidOpen: false,
  key: true,
  air: true,
  extraction: true,
  pointer: true,
  fullPower: null,
  delay: 0,
  cell: null,
  clamps: [],
  board: SHEET,
  bit: { shape: PRACTICE_HEAD, stickOut: 40 },
};

type Shown = MachineStatus & Required<Pick<MachineStatus, 'beam'>> & { world: SimulatedWorld & Required<Pick<SimulatedWorld, 'cabinet'>> };
const { now, once } = looksAt((status) => (status.beam && status.world.cabinet ? (status as Shown) : null));
const BROKEN = { text: 'The head ran into something, or the sheet caught fire.', made: once(({ world }) => world.crash !== null) };

export const LASER_EXERCISES: readonly Practised[] = [
  {
    id: 'laser-lid',
    title: 'The lid',
    brief: 'Burn the tag. The lid stands open: see to it first. While it burns open the lid once, see what happens, and let it go on to its end.',
    mistakes: [30],
    scene: TIDY,
    homed: true,
    zeroed: true,
    then: { lidOpen: true },
    programs: ['tag.nc'],
    tasks: [
      { text: 'Shut the lid', done: now(({ world }) => world.lidOpen === false) },
      { text: 'Begin the program, and press Start at the machine', done: once(({ beam }) => beam.power > 0) },
      {
        text: 'Open the lid while it burns: it is dark, and holds',
        done: once(({ world, state, beam }) => world.lidOpen === true && state === 'hold' && beam.power === 0),
      },
      { text: 'Shut it, and let it go on to its end', done: (trace) => ran('tag.nc')(trace) && now(({ world }) => world.lidOpen === false)(trace) },
    ],
    slips: [
      {
        text: 'You wanted to begin with the lid open. It was refused; where no switch sees the lid, the beam would have met your eyes.',
        made: (trace) =>
          trace.some(({ command, why, machine }) => command?.do === 'practice' && typeof why === 'string' && machine.status?.world?.lidOpen === true),
      },
    ],
    lesson: 'The lid is shut, or everybody near wears eyewear for its wavelength. After the end it stays shut until the smoke is gone.',
  },
  {
    id: 'laser-focus',
    title: 'Out of focus',
    brief:
      'The focus was set a while ago. Since then somebody cleaned the lens and forced the head up: it stands higher than the machine believes. Burn the tag so that its lines come out fine.',
    mistakes: [34],
    scene: TIDY,
    homed: true,
    zeroed: true,
    then: { fault: { kind: 'lost-steps', by: [0, 0, 6] } },
    programs: ['tag.nc'],
    tasks: [
      { text: 'Set the focus on the sheet again', done: now(({ beam, work }) => beam.out !== null && Math.abs(beam.out - work[2]) < 0.3) },
      { text: 'Burn the tag', done: ran('tag.nc') },
    ],
    slips: [
      {
        text: 'It burned out of focus: a wide, pale line where a fine one was meant, and no cut.',
        made: once(({ beam }) => beam.power > 0 && Math.abs(beam.out ?? 0) > 2),
      },
      BROKEN,
    ],
    lesson:
      'Another sheet, another lens, a knock: each is another height. The spot widens on both sides of the focus, and with it all you know of power and speed is wrong.',
  },
  {
    id: 'laser-scale',
    title: 'Thirty per cent, or three?',
    brief:
      'Two programs of the same tag lie ready, for two controllers: what S means full power differs. The panel shows what it is at this machine. Burn the tag with the right one.',
    mistakes: [28],
    scene: { ...TIDY, fullPower: 10_000 },
    homed: true,
    zeroed: true,
    programs: ['tag.nc', 'tag-s10000.nc'],
    tasks: [{ text: 'Burn the tag with the power that is meant', done: ran('tag-s10000.nc') }],
    slips: [
      { text: 'That program was meant for another scale: here its 30 % are 3 %, and elsewhere it might be the other way round.', made: began('tag.nc') },
      BROKEN,
    ],
    lesson: 'Power is said in per cent; S is what a controller makes of it. Header and machine must name the same full power.',
  },
  {
    id: 'laser-order',
    title: 'Cut before it was marked',
    brief: 'Two files of the same tag. One cuts it out first and marks it afterwards. Read the headers, and burn the one in which nothing can move.',
    mistakes: [28],
    scene: TIDY,
    homed: true,
    zeroed: true,
    programs: ['file-a.nc', 'file-b.nc'],
    tasks: [{ text: 'Burn the tag from the good file', done: ran('file-a.nc') }],
    slips: [
      { text: 'The tag was free when it was marked: it had moved, and the mark is beside its place.', made: once(({ world }) => world.cabinet.late) },
      { text: 'The file that cuts first was begun.', made: began('file-b.nc') },
      BROKEN,
    ],
    lesson: 'Mark, then inner holes, then the outline, last of all: what is free moves in the air of the nozzle.',
  },
  {
    id: 'laser-frame',
    title: 'A frame that leaves no mark',
    brief:
      'Before anything is burned the outline is driven round once, to see where it comes. Two programs do that, with different power. The sheet must stay clean.',
    mistakes: [28],
    scene: TIDY,
    homed: true,
    zeroed: true,
    programs: ['frame-20.nc', 'frame-1.nc'],
    tasks: [
      { text: 'Drive round the outline', done: ran('frame-1.nc', 'frame-20.nc') },
      { text: 'The sheet is as clean as before', done: (trace) => ran('frame-1.nc', 'frame-20.nc')(trace) && now(({ world }) => !world.cabinet.marked)(trace) },
    ],
    slips: [{ text: 'The frame was burned into the sheet.', made: once(({ world }) => world.cabinet.marked) }, BROKEN],
    lesson: 'A frame is driven with the pointer, or with a power too low to mark this material. One per cent on wood is safe; on dark card it may not be.',
  },
  {
    id: 'laser-dpi',
    title: 'A picture with the wrong size',
    brief:
      'A picture is to stand on a tag of 50 mm (1.97 in). It was brought in twice, once with the size its file says and once without. Read the headers, and burn the one that fits.',
    mistakes: [28],
    scene: TIDY,
    homed: true,
    zeroed: true,
    programs: ['picture-a.nc', 'picture-b.nc'],
    tasks: [{ text: 'Burn the picture that fits the tag', done: ran('picture-b.nc') }],
    slips: [{ text: 'That one is more than twice as large as the tag.', made: began('picture-a.nc') }, BROKEN],
    lesson: 'Pixels have no size: dots per inch give them one. A picture without is taken for one that nobody meant. Type the width.',
  },
  {
    id: 'laser-forbidden',
    title: 'What never lies under a beam',
    brief: 'A sheet is in the laser already, with a label at its edge. Burn the tag - if it may be burned.',
    mistakes: [28],
    scene: { ...TIDY, board: { ...SHEET, material: FORBIDDEN } },
    homed: true,
    zeroed: true,
    programs: ['tag.nc'],
    tasks: [
      { text: 'Take the sheet out', done: once(({ world }) => world.board?.material !== FORBIDDEN) },
      { text: 'Lay birch ply in its place, and set zero on it', done: now(({ world }) => world.board?.material === 'birch ply') },
      { text: 'Burn the tag', done: ran('tag.nc') },
    ],
    slips: [
      {
        text: 'PVC was burned. Its smoke is hydrochloric acid: it eats the machine, and your lungs.',
        made: once(({ beam, world }) => beam.power > 0 && world.board?.material === FORBIDDEN),
      },
      BROKEN,
    ],
    lesson: 'What nobody can name is not burned. PVC and vinyl, ABS, polycarbonate, carbon fibre, foams: never. The shop’s list of materials says which.',
  },
];
