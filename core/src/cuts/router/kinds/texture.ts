/**
 * Texture: a field of parallel or wavy grooves of one depth, for the ground behind letters. The grooves
 * stay inside what it works on by half their width, and clear of what another cut carves when that is
 * chosen. Shortened grooves have random lengths from a stated seed: the same job gives the same field.
 */
import { z } from 'zod';
import { grooveWidth, radiusAt, shapeOf } from '../../../bits/index.ts';
import { boardThickness } from '../../../board/index.ts';
import { id, notNegative, positive } from '../../../fields/index.ts';
import { clipLines, contourOf, keptFor, offset, regionsBox, subtract, type Line, type Region } from '../../../geometry/index.ts';
import { orderRuns, PathWriter } from '../../../toolpath/index.ts';
import { penStrokes } from '../../expected.ts';
import { cutting, degrees } from '../../fields.ts';
import type { CutContext, CutKind, CutMaker } from '../../kind.ts';

export const TextureCut = z.strictObject({
  ...cutting,
  kind: z.literal('texture'),
  depth: positive.default(0.8),
  /** Distance of the grooves' middles, mm. */
  spacing: positive.default(3),
  /** Of the grooves: 0 runs along X. */
  angle: degrees.default(0),
  /** How far a groove swings to either side, mm: 0 is straight. And the length of one swing there and back. */
  wave: notNegative.max(200).default(0),
  wavelength: positive.default(30),
  /** Mean length of shortened grooves, mm, half to one and a half times that each; left out, they run right across. */
  grooveLength: positive.optional(),
  /** Which of the random fields. */
  seed: z.int().min(1).max(1_000_000).default(1),
  /** A cut whose things it keeps clear of, and by how much, mm. */
  keepOff: id.optional(),
  clear: notNegative.max(200).default(1),
});
export type TextureCut = z.infer<typeof TextureCut>;

/** Between shortened grooves in one line, as a share of their mean length. */
const GAP = 0.3;
/** Points of a wave to a wavelength, at least, and the longest chord between two, mm. */
const CHORDS = 24;
const CHORD = 1;
/** Grooves shorter than they are wide are dots, and left out. */
const DOTS = 1;

/** Numbers from 0 to 1 that depend on the seed alone (mulberry32, a public-domain generator; from memory). */
function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** From where to where grooves run in one line, mm along it: right across, or in random lengths. */
function stretches(cut: TextureCut, row: number, from: number, to: number): [number, number][] {
  const { grooveLength } = cut;
  if (grooveLength === undefined) return [[from, to]];
  // Each line has its own numbers, so that a wider drawing does not change the lines it had before.
  const random = randomFrom(cut.seed * 7919 + row);
  const out: [number, number][] = [];
  for (let u = from - random() * grooveLength; u < to;) {
    const end = u + grooveLength * (0.5 + random());
    out.push([u, end]);
    u = end + grooveLength * GAP * (0.5 + random());
  }
  return out;
}

/** What another cut works on, that the grooves keep clear of. */
function clearOf({ keepOff }: TextureCut, { job, regionsOf }: CutContext): Region[] {
  const other = keepOff === undefined ? undefined : job.cuts[keepOff];
  return other ? regionsOf(other) : [];
}

/** Where the middles of the grooves may run. */
function ground(cut: TextureCut, context: CutContext): Region[] {
  const half = radiusAt(shapeOf(context.bit), cut.depth);
  const area = offset(context.regions, -half);
  const clear = clearOf(cut, context);
  return clear.length > 0 ? subtract(area, offset(clear, half + cut.clear)) : area;
}

/** The grooves, each as an open line: the same as long as nothing changes that they are made of. */
function grooves(cut: TextureCut, context: CutContext): Line[] {
  const { regions, bit } = context;
  const { depth, spacing, angle, wave, wavelength, grooveLength, seed, clear } = cut;
  const key = JSON.stringify([depth, spacing, angle, wave, wavelength, grooveLength, seed, clear, regions.length, shapeOf(bit)]);
  return keptGrooves([...regions, ...clearOf(cut, context)], key, () => groovesIn(cut, context));
}
const keptGrooves = keptFor<Line[]>();

function groovesIn(cut: TextureCut, context: CutContext): Line[] {
  const area = ground(cut, context);
  if (area.length === 0) return [];
  const a = (cut.angle * Math.PI) / 180;
  const [cos, sin] = [Math.cos(a), Math.sin(a)];
  const box = regionsBox(context.regions);
  const [cx, cy] = [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
  const reach = Math.hypot(box.maxX - box.minX, box.maxY - box.minY) / 2;
  const chord = cut.wave > 0 ? Math.min(CHORD, cut.wavelength / CHORDS) : Infinity;
  const rows = Math.ceil((reach + cut.wave) / cut.spacing);
  const lines: Line[] = [];
  for (let row = -rows; row <= rows; row++)
    for (const [from, to] of stretches(cut, row, -reach, reach)) {
      const steps = Math.max(1, Math.ceil((to - from) / chord));
      const xy = new Float64Array(2 * steps + 2);
      for (let k = 0; k <= steps; k++) {
        const u = from + ((to - from) * k) / steps;
        const v = row * cut.spacing + (cut.wave > 0 ? cut.wave * Math.sin((2 * Math.PI * u) / cut.wavelength) : 0);
        xy[2 * k] = cx + cos * u - sin * v;
        xy[2 * k + 1] = cy + sin * u + cos * v;
      }
      lines.push(contourOf(xy));
    }
  const least = DOTS * grooveWidth(context.bit, cut.depth);
  return clipLines(lines, area).filter(({ xy }) => lengthOf(xy) >= least);
}

function lengthOf(xy: Float64Array): number {
  let sum = 0;
  for (let i = 2; i < xy.length; i += 2) sum += Math.hypot(xy[i] - xy[i - 2], xy[i + 1] - xy[i - 1]);
  return sum;
}

export const texture: CutKind<TextureCut, typeof TextureCut> = {
  kind: 'texture',
  process: 'router',
  label: 'texture',
  title: 'Texture',
  help: 'Fills the ground behind letters with shallow grooves, straight or wavy, right across or in random lengths.',
  format:
    '`depth`, `spacing`, `angle`, `wave` to each side (0: straight) and its `wavelength`, `grooveLength` (left out: right across; else the mean of random lengths from `seed`), `keepOff` (a cut whose things it keeps `clear` of)',
  schema: TextureCut,
  tools: ['v', 'engraving', 'ball', 'tapered'],
  usualTarget: 'shapes',
  references: [{ field: 'keepOff', to: 'cut', says: (cut) => `keeps clear of “${cut}”` }],
  fadesOnUneven: true,
  wrongBit: (_cut, bit) => (bit.kind === 'end' || bit.kind === 'drill' || bit.kind === 'surfacing' ? { need: 'a V or ball bit', forbids: true } : null),
  stage: () => 'carving',
  depths: ({ depth }) => ({ start: 0, end: depth }),
  looksAt: ({ keepOff }, { cuts }) => (keepOff !== undefined && cuts[keepOff] ? [cuts[keepOff]] : []),
  described: ({ cut }, show) =>
    `, grooves ${show(cut.spacing)} apart at ${cut.angle}°${cut.wave > 0 ? `, wavy ${show(cut.wave)} in ${show(cut.wavelength)}` : ''}${cut.grooveLength === undefined ? '' : `, about ${show(cut.grooveLength)} long, seed ${cut.seed}`}`,
  figures: ({ cut, bit, facts, lifts }) => [
    { label: 'Deepest', value: facts.deepest, as: 'length' },
    { label: 'Groove width', value: grooveWidth(bit, cut.depth), as: 'length' },
    { label: 'Grooves', value: lifts, as: 'count' },
  ],
  fields: [
    { key: 'depth', label: 'Depth', as: 'length', min: 0.02 },
    { key: 'spacing', label: 'Groove to groove', as: 'length', min: 0.1 },
    { key: 'angle', label: 'Grooves turned by', as: 'number', unit: 'degrees', min: -360, max: 360, step: 0.1 },
    { key: 'wave', label: 'Wave, to each side', as: 'length', min: 0, hint: (cut) => (cut.wave === 0 ? '0 is straight.' : undefined) },
    { key: 'wavelength', label: 'Wavelength', as: 'length', min: 0.5, when: (cut) => cut.wave > 0 },
    { key: 'grooveLength', label: 'Groove length, about', as: 'length', min: 0.5, empty: () => 'right across' },
    {
      key: 'seed',
      label: 'Random field number',
      as: 'number',
      min: 1,
      max: 1_000_000,
      when: (cut) => cut.grooveLength !== undefined,
      hint: () => 'The same number always gives the same field.',
    },
    {
      key: 'keepOff',
      label: 'Keep clear of',
      as: 'choice',
      options: (cut, { job }) => [
        { value: '', label: 'nothing' },
        ...Object.values(job.cuts)
          .filter((other) => other.id !== cut.id)
          .map((other) => ({ value: other.id, label: `“${other.name || other.id}”` })),
      ],
    },
    { key: 'clear', label: 'Clear by', as: 'length', min: 0, when: (cut) => cut.keepOff !== undefined },
  ],
  varyDepth: (cut, depth) => ({ ...cut, depth }),
};

export const textureMaker: CutMaker<TextureCut> = {
  work(cut, { regions }, shape) {
    if (regions.length === 0) return shape.passes(1, { length: 0, points: 0 });
    const { minX, minY, maxX, maxY } = regionsBox([...regions]);
    const rows = Math.hypot(maxX - minX, maxY - minY) / cut.spacing + 1;
    const way = rows * Math.hypot(maxX - minX, maxY - minY);
    const points = way * (cut.wave > 0 ? 1 / Math.min(CHORD, cut.wavelength / CHORDS) : 0) + 2 * rows + (cut.grooveLength ? (2 * way) / cut.grooveLength : 0);
    return shape.passes(1, { length: way, points });
  },
  plan(cut, context) {
    const lines = grooves(cut, context);
    const writer = new PathWriter(context.travel);
    const runs = lines.map(({ xy }) => ({ startX: xy[0], startY: xy[1], endX: xy[xy.length - 2], endY: xy[xy.length - 1], reversible: true }));
    for (const { run, reversed } of orderRuns(runs)) {
      const { xy } = lines[run];
      writer.begin(cut.id, 'texture');
      for (let k = 0; k < xy.length; k += 2) {
        const i = reversed ? xy.length - 2 - k : k;
        if (k === 0) writer.approach(xy[i], xy[i + 1], -cut.depth);
        else writer.cutTo(xy[i], xy[i + 1], -cut.depth);
      }
      writer.lift();
    }
    return { path: writer.finish(), lifts: lines.length, through: cut.depth >= boardThickness(context.job.board) };
  },
  expected({ cut, bit }, context) {
    const shape = shapeOf(bit);
    const lines = grooves(cut, context).map((line) => ({ line, closed: false }));
    return [
      { kind: 'may', regions: offset(penStrokes(lines, 2 * radiusAt(shape, cut.depth)), context.job.tolerance), depth: cut.depth },
      { kind: 'along', lines, outlines: [], shape, depth: cut.depth },
    ];
  },
};
