/** Exercises on the simulated torch table. */
import { STARTING_CHART } from '../bits/chart.ts';
import type { MachineStatus, SimulatedWorld } from '../link/index.ts';
import { began, last, looksAt, ran, type Look, type Moment, type Practised } from './judge.ts';

/** The plate of the exercises, where it lies; its part is 80 x 60 mm with a hole in it. */
const PLATE = { x: 200, y: 150, width: 300, height: 200, thickness: 3 };
const PART = [80, 60] as const;
/** Kerf of the nozzle in this plate, as its chart says, mm. */
const KERF = 1.5;
export const PRACTICE_NOZZLE = { kind: 'nozzle', id: 'practice-nozzle', name: 'nozzle, for practice', diameter: 1.1, chart: STARTING_CHART };

const TIDY = {
  estop: false,
  ground: true,
  air: true,
  water: true,
  warp: 0,
  float: null,
  kerf: 0,
  clamps: [],
  slats: { along: 'y', pitch: 100, first: 50, thick: 4 },
  cell: 0.5,
  board: PLATE,
  bit: { shape: PRACTICE_NOZZLE, stickOut: 60, worn: 0 },
};

type Shown = MachineStatus & Required<Pick<MachineStatus, 'arc'>> & { world: SimulatedWorld & Required<Pick<SimulatedWorld, 'table'>> };
const { now, once } = looksAt((status) => (status.arc && status.world.table ? (status as Shown) : null));
const broken: Look = once(({ world }) => world.crash !== null);
const BROKEN = { text: 'Something went wrong under the torch: on a real table that is a nozzle, or the torch.', made: broken };
const pierced = (trace: readonly Moment[]) => (last(trace)?.machine.status?.arc?.pierces ?? 0) - (trace[0]?.machine.status?.arc?.pierces ?? 0);
/** A piece as large as the part came free, and it is or is not of the part's size. */
const partIs = (right: boolean) =>
  once(({ world: { table } }) => {
    const [width, height] = table.last ?? [0, 0];
    if (width < PART[0] / 2) return false;
    return Math.max(Math.abs(width - PART[0]), Math.abs(height - PART[1])) < 0.8 === right;
  });
/** Z stands at zero where the torch touches the plate. */
const zeroOnPlate = now(({ arc, work }, { machine }) => machine.setup.zeroZ !== null && Math.abs(arc.over - work[2]) < 0.3);
/** After something had gone wrong the program was begun anew: taken up at a place in it, or from its first line. */
const anew = (takenUp: boolean): Look => {
  return (trace) =>
    trace.some(({ command, why }, k) => command?.do === 'practice' && why === null && (command.from !== undefined) === takenUp && broken(trace.slice(0, k)));
};

export const TORCH_EXERCISES: readonly Practised[] = [
  {
    id: 'torch-ground',
    title: 'No arc without its way back',
    brief: 'Everything seems ready: the plate lies, zero is set. Make the machine cut the part.',
    mistakes: [13, 30],
    scene: TIDY,
    homed: true,
    zeroed: true,
    then: { ground: false },
    programs: ['part.nc'],
    tasks: [
      { text: 'Clamp the work lead to bright metal of the plate', done: now(({ world }) => world.table.ground) },
      { text: 'Cut the part', done: ran('part.nc') },
    ],
    slips: [
      {
        text: 'Start was pressed with the work lead off. It was refused; a table that cannot see its lead fires into the air, and the arc looks for another way to earth.',
        made: (trace) =>
          trace.some(({ command, why, machine }) => command?.do === 'practice' && typeof why === 'string' && machine.status?.world?.table?.ground === false),
      },
      BROKEN,
    ],
    lesson: 'The work lead goes on the plate itself, on bright metal, before anything else. Then air, water or fan, and the shade for your eyes.',
  },
  {
    id: 'torch-kerf',
    title: 'Who owns the kerf?',
    brief: `The part must come out 80 × 60 mm (3.15 × 2.36 in). Two programs lie ready. Look at the table’s own kerf setting, read both headers, and cut it right the first time.`,
    mistakes: [18],
    scene: { ...TIDY, kerf: KERF },
    homed: true,
    zeroed: true,
    programs: ['part.nc', 'part-on-line.nc'],
    tasks: [{ text: 'Cut the part to its size', done: (trace) => partIs(true)(trace) && ran('part.nc', 'part-on-line.nc')(trace) }],
    slips: [
      {
        text: 'The part has another size: its kerf was taken off twice, or not at all. One of the two owns it, the program or the table, never both.',
        made: partIs(false),
      },
      BROKEN,
    ],
    lesson: 'The header says who owns the kerf. With it in the program the table has none set; with a program on the line the table must have it.',
  },
  {
    id: 'torch-height',
    title: 'The torch stands too high',
    brief:
      'Zero was set a while ago. Since then somebody forced the torch up by hand: it stands higher than the machine believes. The program does not touch by itself. Cut the part without losing an arc.',
    mistakes: [34],
    scene: TIDY,
    homed: true,
    zeroed: true,
    then: { fault: { kind: 'lost-steps', by: [0, 0, 6] } },
    programs: ['part-no-touch.nc'],
    tasks: [
      { text: 'Set Z on the plate again', done: zeroOnPlate },
      { text: 'Cut the part', done: ran('part-no-touch.nc') },
    ],
    slips: [
      {
        text: 'The arc was asked for with the torch too high. It does not take hold there, or blows a wide and sloping cut.',
        made: once(({ arc, world }) => (arc.wanted && arc.over > 5) || /did not take hold|before it was through/.test(world.crash ?? '')),
      },
      BROKEN,
    ],
    lesson: 'Height decides a torch cut: pierce height, then cut height, from the plate as it lies. A program that touches before each pierce asks it anew.',
  },
  {
    id: 'torch-nozzle',
    title: 'A nozzle at its end',
    brief: 'The last cut had a wide, rounded edge. Look at what is worn, put it right, then cut the part.',
    mistakes: [],
    scene: { ...TIDY, bit: { ...TIDY.bit, worn: 0.9 } },
    homed: true,
    zeroed: true,
    programs: ['part.nc'],
    tasks: [
      { text: 'Fit a new nozzle', done: now(({ world }) => world.bit !== null && world.table.worn < 0.2) },
      { text: 'Set Z on the plate again: the new one stands out by another length', done: zeroOnPlate },
      { text: 'Cut the part', done: ran('part.nc') },
    ],
    slips: [
      {
        text: 'An arc was struck with the worn nozzle. It cuts wider than the program reckons, and blows when it is through.',
        made: once(({ arc, world }) => arc.burns && world.table.worn > 0.7),
      },
      BROKEN,
    ],
    lesson: 'Pierces wear a nozzle more than metres do. Its count stands on the set-up card; an edge that gets wide or sloping says the same.',
  },
  {
    id: 'torch-tipped',
    title: 'A piece that stands up',
    brief:
      'Two programs, one after the other: the first cuts a tag free, the second two holes to the left and right of it. The way between the holes leads low over the tag. Break nothing.',
    mistakes: [9],
    scene: TIDY,
    homed: true,
    zeroed: true,
    programs: ['tag.nc', 'two-holes.nc'],
    tasks: [
      { text: 'Cut the tag', done: ran('tag.nc') },
      { text: 'Look how it lies, and take it off the table', done: (trace) => ran('tag.nc')(trace) && now(({ world }) => world.table.tipped === 0)(trace) },
      { text: 'Cut the two holes', done: ran('two-holes.nc') },
    ],
    slips: [
      {
        text: 'The torch met the piece that had tipped up, and broke away.',
        made: once(({ world }) => /tipped up/.test(world.crash ?? '')),
      },
    ],
    lesson: 'What comes free on slats may tip. The proof says which pieces do; they are tabbed, taken off, or travelled over high - never met on the way.',
  },
  {
    id: 'torch-lost',
    title: 'The arc is lost',
    brief: 'Cut the part. Something will go wrong on the way: find out what, put it right, and go on at the contour that was being cut.',
    mistakes: [33],
    scene: TIDY,
    homed: true,
    zeroed: true,
    happens: {
      when: (trace) => pierced(trace) >= 2 && last(trace)?.machine.status?.arc?.burns === true,
      change: { ground: false },
    },
    programs: ['part.nc'],
    tasks: [
      { text: 'Begin the program', done: began('part.nc') },
      { text: 'The arc is lost: find the cause and mend it', done: (trace) => broken(trace) && now(({ world }) => world.table.ground)(trace) },
      {
        text: 'Stop the run, and clear the alarm if there is one',
        done: (trace) => broken(trace) && now(({ world, state }) => world.crash === null && state !== 'alarm')(trace),
      },
      { text: 'Go on from the contour that was being cut, to the end', done: (trace) => anew(true)(trace) && ran('part.nc')(trace) },
    ],
    slips: [
      {
        text: 'The program was begun from its first line again: where the plate is cut already there is no metal for an arc.',
        made: anew(false),
      },
    ],
    lesson:
      'A lost arc is stopped where it was, its cause looked for first: lead, air, nozzle, height. Then it is pierced again beside the contour, in the scrap.',
  },
  {
    id: 'torch-double',
    title: 'A line that is there twice',
    brief:
      'Somebody brought two files of the same part: an outline and one hole. In one of them a line is drawn twice. Read the headers, and cut the good one.',
    mistakes: [20],
    scene: TIDY,
    homed: true,
    zeroed: true,
    programs: ['file-a.nc', 'file-b.nc'],
    tasks: [{ text: 'Cut the part from the good file', done: ran('file-b.nc') }],
    slips: [
      {
        text: 'The file with the double line was begun: the second time round the arc has no metal, and the part is cut twice.',
        made: began('file-a.nc'),
      },
      BROKEN,
    ],
    lesson:
      'One outline and one hole are two pierces. Count them: a drawing with a line twice or not joined shows in the pierces before it shows in the plate.',
  },
];
