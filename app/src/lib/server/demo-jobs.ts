/** The jobs of the demo shop, as documents: Larkmere Arboretum orders its signs from the Saltgrass Sign Shed (both invented). */
import { layPlates } from '@kerbe/core/artwork/list';
import { Cut, makeItem, readJob, type Job } from '@kerbe/core/job';
import { TO_HAND, usualBit } from '@kerbe/core/bits/usual';
import { laserJobs } from './demo-laser';
import { torchJobs } from './demo-torch';

/** Every demo job and the name of the account that made it. @param leaf id of the picture of a leaf that is kept with the job it is burned in */
export function demoJobs(leaf = 'leaf'): [Job, string][] {
  const heron = plainSign('Heron Walk');
  heron.board = { ...heron.board, width: 610, height: 190, thickness: 18.9, material: 'cedar', holdDown: 'screws' };
  heron.items.words = { ...heron.items.words, x: 305, y: 95, text: 'HERON WALK', capHeight: 52 } as typeof heron.items.words;
  heron.items.edge = { ...heron.items.edge, x: 305, y: 95, width: 580, height: 160, radius: 22 } as typeof heron.items.edge;
  heron.notes = 'Trailhead board for Larkmere Arboretum.';
  const jobs: [Job, string][] = [[heron, 'owner']];
  const gate = plainSign('Reed Gate');
  gate.board = { ...gate.board, width: 450, height: 200, thickness: 22, material: 'oak', holdDown: 'clamps' };
  gate.items.words = { ...gate.items.words, x: 225, y: 100, text: 'Reed Gate\nclosed at dusk', face: 'lobster', capHeight: 34 } as typeof gate.items.words;
  gate.items.edge = { ...gate.items.edge, x: 225, y: 100, width: 420, height: 170, radius: 40 } as typeof gate.items.edge;
  jobs.push([gate, 'operator'], [speciesPlates(), 'owner'], [raisedMap(), 'owner'], [benchPlate(), 'owner'], [leafInlay(), 'owner'], [hideSign(), 'operator']);
  return [...jobs, ...[...torchJobs(), ...laserJobs(leaf)].map((job): [Job, string] => [job, 'owner'])];
}

/** A row of plates for the tree garden, from a list: names carved, plates cut out along their edges. */
function speciesPlates(): Job {
  const job = plainSign('Species plates');
  job.board = { ...job.board, width: 400, height: 150, thickness: 9, material: 'birch ply', holdDown: 'tape' };
  const list = {
    columns: ['Name', 'Latin'],
    rows: [
      ['Oak', 'Quercus robur'],
      ['Field maple', 'Acer campestre'],
      ['Wych elm', 'Ulmus glabra'],
      ['Alder', 'Alnus glutinosa'],
      ['Aspen', 'Populus tremula'],
      ['Rowan', 'Sorbus aucuparia'],
    ],
  };
  const { items } = layPlates({ ...job, items: {} }, list, {
    width: 115,
    height: 55,
    radius: 6,
    gap: 12,
    margin: 12,
    face: 'barlow',
    lines: [
      { pattern: '{name}', capHeight: 11, above: 8 },
      { pattern: '{latin}', capHeight: 6, above: -11 },
    ],
    hole: { diameter: 5, inset: 7 },
  });
  job.items = Object.fromEntries(items.map((item) => [item.id, item]));
  job.itemOrder = items.map(({ id }) => id);
  job.outline = null;
  const of = (kind: string) => items.filter((item) => item.kind === kind).map(({ id }) => id);
  job.cuts.carve = { ...job.cuts.carve, name: 'Carve the names', on: of('text') };
  job.cuts.edge = { ...job.cuts.edge, name: 'Cut out the plates', on: of('rectangle'), tool: 'end3' };
  const holes = Cut.parse({
    kind: 'drill',
    id: 'holes',
    name: 'Drill the screw holes',
    on: of('holes'),
    tool: 'drill5',
    feed: 1200,
    plunge: 600,
    speed: 12000,
  });
  job.cuts = { holes, ...job.cuts };
  job.cutOrder = ['holes', ...job.cutOrder];
  job.notes = 'For the tree walk of Larkmere Arboretum. The holes take the stakes’ screws.';
  return job;
}

/** The map at the entrance: ponds and walks stand up from a field cleared by two bits. */
function raisedMap(): Job {
  const job = plainSign('Raised map');
  job.board = { ...job.board, width: 300, height: 220, thickness: 20, material: 'slate-grey board', holdDown: 'screws' };
  // The field, and in it what stays: the great pond with its island, the long walk, three groves.
  const d =
    'M-125 -85H125V85H-125Z' +
    'M-96 -20C-100 18 -70 52 -30 46C2 42 6 12 -6 -8C-20 -34 -50 -48 -72 -46C-88 -44 -95 -34 -96 -20Z' +
    'M-60 4C-58 18 -44 20 -38 10C-34 0 -46 -10 -54 -8C-59 -6 -61 -2 -60 4Z' +
    'M14 60C34 62 46 40 62 22C74 8 92 2 108 4L108 -6C88 -8 66 0 52 14C38 30 30 50 14 50Z' +
    'M66 56A14 14 0 1 0 94 56A14 14 0 1 0 66 56Z M34 -40A17 17 0 1 0 68 -40A17 17 0 1 0 34 -40Z M82 -54A12 12 0 1 0 106 -54A12 12 0 1 0 82 -54Z';
  const field = makeItem({ kind: 'path', id: 'field', name: 'Map', x: 150, y: 118, d, fill: 'evenodd' });
  const words = makeItem({ kind: 'text', id: 'words', name: 'Words', x: 150, y: 18, text: 'Larkmere Arboretum', face: 'zilla', capHeight: 11 });
  job.items = { field, words, edge: { ...job.items.edge, x: 150, y: 110, width: 286, height: 206, radius: 10 } as typeof job.items.edge };
  job.itemOrder = ['field', 'words', 'edge'];
  const clear = Cut.parse({
    kind: 'pocket',
    id: 'clear',
    name: 'Clear the field',
    on: ['field'],
    tool: 'end6',
    depth: 4,
    depthPerPass: 2,
    feed: 2600,
    plunge: 800,
  });
  const rest = Cut.parse({
    kind: 'pocket',
    id: 'rest',
    name: 'Finish what is left',
    on: ['field'],
    tool: 'end3',
    depth: 4,
    depthPerPass: 2,
    after: 'end6',
    feed: 2000,
    plunge: 600,
  });
  job.cuts = { clear, rest, carve: { ...job.cuts.carve, on: ['words'] }, edge: job.cuts.edge };
  job.cutOrder = ['clear', 'rest', 'carve', 'edge'];
  job.notes = 'Stands at the gate of Larkmere Arboretum. Paint the field before the words are carved.';
  return job;
}

/** A brass plate for a bench: drag-engraved words, two drilled holes, cut out with tabs. */
function benchPlate(): Job {
  const job = plainSign('Bench plate');
  job.board = { ...job.board, width: 150, height: 70, thickness: 2.5, material: 'brass', holdDown: 'screws' };
  const words = makeItem({
    kind: 'text',
    id: 'words',
    name: 'Words',
    x: 75,
    y: 35,
    text: 'REST HERE AWHILE\nLarkmere Arboretum',
    face: 'barlow',
    capHeight: 8,
  });
  const holes = makeItem({
    kind: 'holes',
    id: 'holes',
    name: 'Screw holes',
    x: 75,
    y: 35,
    diameter: 5,
    layout: { kind: 'rows', columns: 2, rows: 1, dx: 114, dy: 10 },
  });
  job.items = { words, holes, edge: { ...job.items.edge, x: 75, y: 35, width: 130, height: 50, radius: 6 } as typeof job.items.edge };
  job.itemOrder = ['words', 'holes', 'edge'];
  job.tools = { drag: usualBit('drag'), drill5: job.tools.drill5, end3: job.tools.end3 };
  const scratch = Cut.parse({ kind: 'drag', id: 'scratch', name: 'Scratch the words', on: 'words', tool: 'drag', fill: 'hatch', feed: 1500, plunge: 600 });
  const drill = Cut.parse({
    kind: 'drill',
    id: 'drill',
    name: 'Drill the screw holes',
    on: 'holes',
    tool: 'drill5',
    feed: 180,
    plunge: 120,
    speed: 3000,
    peck: 0.8,
    dwell: 0.2,
  });
  const out = Cut.parse({
    kind: 'profile',
    id: 'out',
    name: 'Cut out the plate',
    on: 'outline',
    tool: 'end3',
    depthPerPass: 0.3,
    tabs: 4,
    tabWidth: 3,
    tabHeight: 0.6,
    entry: 'ramp',
    lead: 'arc',
    leadLength: 2,
    feed: 500,
    plunge: 150,
    speed: 14_000,
  });
  job.cuts = { drill, scratch, out };
  job.cutOrder = ['drill', 'scratch', 'out'];
  job.notes = 'The spindle stays off for the words. Film under the brass: measure the thickness with it.';
  return job;
}

/** The recess for a leaf of another wood; the plug is the other half of the pair. */
function leafInlay(): Job {
  const job = plainSign('Leaf inlay');
  job.board = { ...job.board, width: 200, height: 140, thickness: 15, material: 'walnut', holdDown: 'clamps' };
  const d = 'M-62 0C-40 34 18 40 62 6C40 -34 -20 -38 -62 0Z M-84 -3H-58V3H-84Z';
  const leaf = makeItem({ kind: 'path', id: 'leaf', name: 'Leaf', x: 106, y: 70, d, fill: 'nonzero' });
  job.items = { leaf };
  job.itemOrder = ['leaf'];
  job.outline = null;
  job.tools = { end3: job.tools.end3, end6: job.tools.end6, v90: job.tools.v90 };
  const recess = Cut.parse({
    kind: 'recess',
    id: 'recess',
    name: 'Sink the leaf',
    on: ['leaf'],
    tool: 'end3',
    mate: 'end6',
    gap: 0.1,
    depth: 4,
    depthPerPass: 2,
    feed: 1600,
    plunge: 500,
  });
  job.cuts = { recess };
  job.cutOrder = ['recess'];
  job.notes = 'The leaf itself is cut from maple: make the job of the other half.';
  return job;
}

/** The bird hide: letters on a ground of wavy grooves, with a raised border round it. */
function hideSign(): Job {
  const job = plainSign('Reed Hide');
  job.board = { ...job.board, width: 420, height: 160, thickness: 18, material: 'oak', holdDown: 'screws' };
  const ground = makeItem({ kind: 'rectangle', id: 'ground', name: 'Ground', x: 210, y: 80, width: 360, height: 104, radius: 6 });
  job.items = {
    ground,
    words: { ...job.items.words, x: 210, y: 80, text: 'REED HIDE', capHeight: 40 } as typeof job.items.words,
    edge: { ...job.items.edge, x: 210, y: 80, width: 400, height: 140, radius: 16 } as typeof job.items.edge,
  };
  job.itemOrder = ['ground', 'words', 'edge'];
  const texture = Cut.parse({
    kind: 'texture',
    id: 'texture',
    name: 'Texture the ground',
    on: ['ground'],
    tool: 'v90',
    depth: 0.6,
    spacing: 2.6,
    angle: 8,
    wave: 1.4,
    wavelength: 46,
    grooveLength: 38,
    seed: 4,
    keepOff: 'carve',
    clear: 2,
    feed: 3000,
    plunge: 1200,
  });
  job.cuts = { texture, carve: { ...job.cuts.carve, on: ['words'] }, edge: job.cuts.edge };
  job.cutOrder = ['texture', 'carve', 'edge'];
  job.notes = 'For the bird hide of Larkmere Arboretum. The grooves stand for the reeds; the letters keep clear of them.';
  return job;
}

/** What the demo jobs are drawn on: a board, a pair of bits and the cuts most signs have. */
function plainSign(name: string): Job {
  const reading = readJob({
    kerbe: 4,
    name,
    board: { width: 400, height: 150, thickness: 18, material: 'pine' },
    items: {
      words: { kind: 'text', id: 'words', name: 'Words', x: 200, y: 75, text: '', face: 'cinzel', capHeight: 38 },
      edge: { kind: 'rectangle', id: 'edge', name: 'Sign outline', x: 200, y: 75, width: 370, height: 120, radius: 12 },
    },
    itemOrder: ['words', 'edge'],
    outline: 'edge',
    tools: Object.fromEntries(TO_HAND.map((id) => [id, usualBit(id)])),
    cuts: {
      carve: { kind: 'vcarve', id: 'carve', name: 'Carve the words', on: 'art', tool: 'v60', feed: 2400, plunge: 1200, speed: 18000 },
      edge: {
        kind: 'profile',
        id: 'edge',
        name: 'Cut out the sign',
        on: 'outline',
        tool: 'end6',
        feed: 3000,
        plunge: 900,
        speed: 18000,
        depthPerPass: 4,
        tabs: 4,
      },
    },
    cutOrder: ['carve', 'edge'],
    machine: { name: 'Simulated router', warmUpSeconds: 60 },
  });
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
}
