/** Demo jobs of the laser: specimen tags with a leaf, and an edge-lit plate. All drawn for the invented shop. */
import { usualHead } from '@kerbe/core/bits/usual';
import { suggestBeam } from '@kerbe/core/feeds/beam';
import { kindNamed } from '@kerbe/core/cuts';
import { JOB_VERSION, readJob, type Job } from '@kerbe/core/job';
import { LASER_BENCH } from '@kerbe/core/machine';

const HEAD = usualHead();

function laserJob(document: object): Job {
  const reading = readJob({ kerbe: JOB_VERSION, process: 'laser', machine: LASER_BENCH, tools: { head1: HEAD }, ...document });
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
}

/** What is suggested for a sheet, as the card would take it. */
function figures(kind: 'laser-fill' | 'laser-score' | 'laser-cut' | 'laser-picture', material: string, thickness: number, pitch?: number): object {
  const { feed, power, passes } = suggestBeam(HEAD, material, thickness, kindNamed(kind), pitch)!;
  return { kind, tool: 'head1', feed, power, ...(kindNamed(kind).takesPictures ? {} : { passes }) };
}

/** Two tags from one sheet, each with a hole, a leaf, the name of its tree, and its outline cut out last. */
function tags(leaf: string): Job {
  const [width, height, thickness, material] = [190, 70, 3, 'birch ply'];
  const one = (k: number, name: string, latin: string) => {
    const x = 50 + 90 * k;
    return {
      [`leaf${k}`]: { kind: 'picture', id: `leaf${k}`, name: `Leaf of ${name}`, asset: leaf, x: x - 22, y: 35, width: 30, height: 20 },
      [`name${k}`]: { kind: 'text', id: `name${k}`, name, x: x + 14, y: 40, text: name, face: 'barlow', capHeight: 6 },
      [`latin${k}`]: { kind: 'text', id: `latin${k}`, name: latin, x: x + 14, y: 28, text: latin, face: 'barlow', capHeight: 3, fitWidth: 36 },
      [`hole${k}`]: { kind: 'ellipse', id: `hole${k}`, name: `Hole of ${name}`, x: x + 36, y: 52, width: 4, height: 4 },
      [`tag${k}`]: { kind: 'rectangle', id: `tag${k}`, name: `Tag of ${name}`, x, y: 35, width: 82, height: 44, radius: 5 },
    };
  };
  const items = { ...one(0, 'Wych elm', 'Ulmus glabra'), ...one(1, 'Alder', 'Alnus glutinosa') };
  const ids = (...kinds: string[]) => Object.keys(items).filter((id) => kinds.some((kind) => id.startsWith(kind)));
  return laserJob({
    name: 'Specimen tags',
    board: { width, height, thickness, material, holdDown: 'tape' },
    items,
    itemOrder: Object.keys(items),
    outline: null,
    cuts: {
      leaf: { id: 'leaf', name: 'Burn the leaves', on: ids('leaf'), ...figures('laser-picture', material, thickness), dither: 'floyd-steinberg', drop: 0.04 },
      words: { id: 'words', name: 'Burn the names', on: ids('name', 'latin'), ...figures('laser-fill', material, thickness) },
      out: { id: 'out', name: 'Cut holes and tags', on: ids('hole', 'tag'), ...figures('laser-cut', material, thickness), kerf: 0.15, focus: 1 },
    },
    cutOrder: ['leaf', 'words', 'out'],
    notes: 'For the tree walk of Larkmere Arboretum. Marked first, cut last: a tag that is free may move.',
  });
}

/** A plate that light is let into from below: a heron's outline and words frosted on clear acrylic. */
function edgeLit(): Job {
  const [width, height, thickness, material] = [150, 110, 4, 'clear acrylic'];
  const heron = 'M-14 -38L-11 -38L-9 -8Q2 -4 8 6Q12 15 4 20Q0 24 3 28Q7 32 12 30L24 27L13 24Q9 23 10 19Q18 12 12 2Q4 -10 -4 -12L-8 -38L-5 -38L-20 -38Z';
  return laserJob({
    name: 'Edge-lit heron',
    board: { width, height, thickness, material, holdDown: 'tape' },
    items: {
      heron: { kind: 'path', id: 'heron', name: 'Heron', x: 45, y: 62, d: heron, fill: 'nonzero' },
      words: { kind: 'text', id: 'words', name: 'Words', x: 96, y: 60, text: 'Heron Walk', face: 'lobster', capHeight: 12, fitWidth: 70 },
      line: { kind: 'path', id: 'line', name: 'Water line', x: 75, y: 22, d: 'M-55 0Q-40 4 -25 0Q-10 -4 5 0Q20 4 35 0Q45 -3 55 0', fill: 'none' },
      edge: { kind: 'rectangle', id: 'edge', name: 'Plate outline', x: 75, y: 55, width: 136, height: 96, radius: 8 },
    },
    itemOrder: ['heron', 'words', 'line', 'edge'],
    outline: 'edge',
    cuts: {
      frost: { id: 'frost', name: 'Frost the heron and the words', on: ['heron', 'words'], ...figures('laser-fill', material, thickness) },
      water: { id: 'water', name: 'Draw the water', on: ['line'], ...figures('laser-score', material, thickness) },
      out: { id: 'out', name: 'Cut out the plate', on: 'outline', ...figures('laser-cut', material, thickness), kerf: 0.15, focus: 1.3 },
    },
    cutOrder: ['frost', 'water', 'out'],
    notes: 'Stands on a strip of lights in the visitor room of Larkmere Arboretum. The film stays on the back until it is mounted.',
  });
}

/** A coated tile longer than the field, burned in two halves: words on either side of a seam, and a water line across it. */
function tideTile(): Job {
  const [width, height, thickness, material] = [760, 240, 8, 'coated tile'];
  return laserJob({
    name: 'Tide tile',
    board: { width, height, thickness, material, holdDown: 'tape' },
    items: {
      left: { kind: 'text', id: 'left', name: 'Left words', x: 195, y: 140, text: 'Mind the', face: 'lobster', capHeight: 44, fitWidth: 270 },
      right: { kind: 'text', id: 'right', name: 'Right words', x: 565, y: 140, text: 'tide', face: 'lobster', capHeight: 44 },
      water: {
        kind: 'path',
        id: 'water',
        name: 'Water line',
        x: 380,
        y: 62,
        d: 'M-330 0Q-290 14 -250 0Q-210 -14 -170 0Q-130 14 -90 0Q-50 -14 -10 0Q30 14 70 0Q110 -14 150 0Q190 14 230 0Q270 -14 310 0',
        fill: 'none',
      },
    },
    itemOrder: ['left', 'right', 'water'],
    outline: null,
    cuts: {
      words: { id: 'words', name: 'Burn the words', on: ['left', 'right'], ...figures('laser-fill', material, thickness) },
      line: { id: 'line', name: 'Draw the water', on: ['water'], ...figures('laser-score', material, thickness) },
    },
    cutOrder: ['words', 'line'],
    tiles: { axis: 'x', seams: [420], by: 'stop' },
    notes: 'For the steps at Larkmere quay. Coat it, let it dry, burn it, wash it. Longer than the field: two halves, pushed along the stop in between.',
  });
}

/** A leaf in shades of grey on white: red, green, blue and how solid, row by row. */
export function leafPixels(width = 360, height = 240): Uint8ClampedArray {
  const data = new Uint8ClampedArray(4 * width * height);
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      // Along the leaf from its stalk, and across it.
      const [u, v] = [(i + 0.5) / width, ((j + 0.5) / height - 0.5) * 2];
      const half = u < 0.12 ? 0.03 : 0.86 * Math.sin(Math.PI * ((u - 0.12) / 0.88) ** 0.8) * (1 + 0.04 * Math.sin(70 * u));
      const inside = Math.abs(v) <= half;
      // Ribs run out and forward from the middle one.
      const rib = Math.abs((((u - 0.35 * Math.abs(v)) * 11) % 1) - 0.5);
      const middle = Math.abs(v) < 0.025 + 0.02 * (1 - u);
      const tone = !inside ? 255 : middle || u < 0.12 ? 40 : 225 - 150 * Math.max(0, rib - 0.36) * 7 - 90 * (Math.abs(v) / Math.max(0.05, half)) ** 3 - 40 * u;
      const k = 4 * (j * width + i);
      data.fill(Math.max(0, Math.min(255, tone)), k, k + 3);
      data[k + 3] = 255;
    }
  return data;
}

/** @param leaf id of the leaf's picture */
export const laserJobs = (leaf: string): Job[] => [tags(leaf), edgeLit(), tideTile()];
