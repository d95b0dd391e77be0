/** What is asked of every kind of cut, as data: one table instead of a form for each. */
import { cuttingWidth, fillStep, grooveWidth, pointLength, stepOver, SUITS } from '@kerbe/core/bits';
import { boardThickness, type Bit, type Cut, type CutKind, type CutOf, type Job } from '@kerbe/core/job';
import { len, num } from '$lib/ui/format';

interface Asked<C> {
  /** Path into the cut, such as `hold.preload`. */
  key: string;
  label: string;
  /** Asked only then. */
  when?: (cut: C, context: Context) => boolean;
  hint?: (cut: C, context: Context) => string | undefined;
  /** Folded away under this heading. */
  under?: string;
}
export type Field<C = Cut> = Asked<C> &
  (
    | { as: 'length'; min: number; /** May be left empty: what then stands there. */ empty?: (cut: C, context: Context) => string }
    | { as: 'number'; unit?: string; min: number; max: number; step?: number }
    | { as: 'choice'; options: readonly { value: string; label: string }[] | ((cut: C, context: Context) => readonly { value: string; label: string }[]) }
    | { as: 'flag' }
  );

export interface Context {
  job: Job;
  bit: Bit;
}

export const TITLE: Record<CutKind, string> = {
  vcarve: 'V-carve',
  pocket: 'Pocket',
  profile: 'Profile',
  drill: 'Drill',
  engrave: 'Engrave or groove',
  drag: 'Drag-engrave',
  recess: 'Recess for a plug',
  plug: 'Plug for a recess',
  chamfer: 'Break an edge',
  surface: 'Plane the board',
};
export const KINDS = Object.keys(TITLE) as CutKind[];

export const bitsFor = (kind: CutKind, bits: Job['bits']): Bit[] => SUITS[kind].flatMap((wanted) => Object.values(bits).filter((bit) => bit.kind === wanted));

const direction = {
  key: 'direction',
  label: 'Direction',
  as: 'choice' as const,
  options: [
    { value: 'climb', label: 'climb' },
    { value: 'conventional', label: 'conventional' },
  ],
  under: 'Passes',
};
const depthPerPass = { key: 'depthPerPass', label: 'Depth of each pass', as: 'length' as const, min: 0.01 };
const startDepth = { key: 'startDepth', label: 'Start below the surface', as: 'length' as const, min: 0, under: 'Depth in steps' };
/** Between the passes of a straight bit that clears. */
const clearing = {
  key: 'stepover',
  label: 'Between passes',
  as: 'length' as const,
  min: 0.05,
  empty: (cut: { stepover?: number }, { bit, job }: Context) => num(stepOver(bit, cut.stepover), job.units),
  hint: (cut: { stepover?: number }, { bit }: Context) =>
    `${Math.round((100 * stepOver(bit, cut.stepover)) / cuttingWidth(bit))} % of the bit’s width${cut.stepover === undefined ? ', as is usual' : ''}.`,
};
const straightBits = (job: Job, but: string) => Object.values(job.bits).filter((bit) => bit.kind === 'end' && bit.id !== but);
const nameOf = (bit: Bit) => bit.name || bit.id;

const vcarve: Field<CutOf<'vcarve'>>[] = [
  {
    key: 'floorDepth',
    label: 'Floor, no deeper than',
    as: 'length',
    min: 0.05,
    empty: () => 'no floor',
    hint: (cut) => (cut.floorDepth === undefined ? 'Left empty, every stroke goes as deep as it is wide.' : undefined),
  },
  { key: 'stepover', label: 'Distance of floor passes', as: 'length', min: 0.02, when: (cut) => cut.floorDepth !== undefined },
  startDepth,
  { key: 'depthPerPass', label: 'Depth of each pass', as: 'length', min: 0.05, empty: () => 'all at once', under: 'Depth in steps' },
  { key: 'plug.margin', label: 'Cleared round the plug', as: 'length', min: 1, when: (cut) => cut.plug !== undefined },
];

const pocket: Field<CutOf<'pocket'>>[] = [
  { key: 'depth', label: 'Depth', as: 'length', min: 0.05, when: (cut) => cut.floorOf === undefined },
  depthPerPass,
  clearing,
  {
    key: 'pattern',
    label: 'Passes run',
    as: 'choice',
    options: [
      { value: 'rings', label: 'in rings, from the middle out' },
      { value: 'lines', label: 'in lines, and along the wall' },
    ],
  },
  { key: 'angle', label: 'Lines turned by', as: 'number', unit: 'degrees', min: -360, max: 360, step: 0.1, when: (cut) => cut.pattern === 'lines' },
  {
    key: 'after',
    label: 'Cleared before by',
    as: 'choice',
    when: (cut) => cut.floorOf === undefined,
    options: (cut, { job }) => [
      { value: '', label: 'nothing: clear it all' },
      ...straightBits(job, cut.bit).map((bit) => ({ value: bit.id, label: `${nameOf(bit)}: only what it left` })),
    ],
  },
  { key: 'allowance', label: 'Left on the wall for a last pass', as: 'length', min: 0, under: 'Passes' },
  {
    key: 'entry',
    label: 'The bit comes down',
    as: 'choice',
    options: [
      { value: 'auto', label: 'as fits best' },
      { value: 'helix', label: 'in a helix' },
      { value: 'ramp', label: 'along the pass' },
      { value: 'straight', label: 'straight' },
    ],
    under: 'Passes',
  },
  { key: 'open', label: 'Open where it reaches an edge of the board', as: 'flag', under: 'Passes' },
  direction,
  { ...startDepth, when: (cut) => cut.floorOf === undefined },
];

const profile: Field<CutOf<'profile'>>[] = [
  {
    key: 'side',
    label: 'Bit runs',
    as: 'choice',
    options: [
      { value: 'outside', label: 'outside: keeps the part' },
      { value: 'inside', label: 'inside: an opening' },
      { value: 'on', label: 'on the line: a groove' },
      { value: 'auto', label: 'by what lies in what' },
    ],
  },
  {
    key: 'depth',
    label: 'Depth',
    as: 'length',
    min: 0.05,
    empty: () => 'through',
    hint: (cut, { job }) =>
      cut.depth === undefined && cut.skin === 0 ? `Empty: through the board, ${len(boardThickness(job.board) + cut.throughAllowance, job.units)}.` : undefined,
  },
  { key: 'throughAllowance', label: 'Into the spoilboard', as: 'length', min: 0, when: (cut) => cut.depth === undefined && cut.skin === 0 },
  { key: 'skin', label: 'Skin left at the bottom', as: 'length', min: 0, when: (cut) => cut.depth === undefined, under: 'Passes' },
  depthPerPass,
  { key: 'tabs', label: 'Tabs', as: 'number', unit: 'on a line', min: 0, max: 50, when: (cut) => cut.tabEvery === undefined && cut.tabsAt.length === 0 },
  { key: 'tabEvery', label: 'A tab every', as: 'length', min: 5, empty: () => 'by number', when: (cut) => cut.tabsAt.length === 0, under: 'Tabs' },
  { key: 'tabWidth', label: 'Tab width', as: 'length', min: 0.2, under: 'Tabs' },
  { key: 'tabHeight', label: 'Tab height', as: 'length', min: 0.1, under: 'Tabs' },
  {
    key: 'tabShape',
    label: 'Tabs are',
    as: 'choice',
    options: [
      { value: 'square', label: 'square' },
      { value: 'ramped', label: 'ramped' },
    ],
    under: 'Tabs',
  },
  {
    key: 'entry',
    label: 'The bit comes down',
    as: 'choice',
    options: [
      { value: 'straight', label: 'straight' },
      { value: 'ramp', label: 'along the pass' },
    ],
    under: 'Passes',
  },
  {
    key: 'lead',
    label: 'It meets the wall',
    as: 'choice',
    options: [
      { value: 'none', label: 'head on' },
      { value: 'line', label: 'slanting in' },
      { value: 'arc', label: 'in a quarter circle' },
    ],
    when: (cut) => cut.side !== 'on',
    under: 'Passes',
  },
  { key: 'leadLength', label: 'Length of that way', as: 'length', min: 0.2, when: (cut) => cut.lead !== 'none' && cut.side !== 'on', under: 'Passes' },
  { key: 'allowance', label: 'Left on the wall for a last pass', as: 'length', min: 0, when: (cut) => cut.side !== 'on', under: 'Passes' },
  {
    key: 'outsideCorners',
    label: 'Outside corners',
    as: 'choice',
    options: [
      { value: 'round', label: 'the bit rolls round' },
      { value: 'sharp', label: 'kept sharp' },
    ],
    when: (cut) => cut.side !== 'on',
    under: 'Corners',
  },
  {
    key: 'insideCorners',
    label: 'Inside corners',
    as: 'choice',
    options: [
      { value: 'round', label: 'as round as the bit' },
      { value: 'dogbone', label: 'relieved along the middle' },
      { value: 'tbone', label: 'relieved along one wall' },
    ],
    when: (cut) => cut.side !== 'on',
    under: 'Corners',
  },
  direction,
  startDepth,
];

const drill: Field<CutOf<'drill'>>[] = [
  {
    key: 'depth',
    label: 'Depth',
    as: 'length',
    min: 0.05,
    empty: () => 'through',
    hint: (cut, { bit, job }) =>
      cut.depth !== undefined && bit.kind === 'drill' ? `The point of this drill is ${len(pointLength(bit), job.units)} long.` : undefined,
  },
  {
    key: 'depthOf',
    label: 'Depth is measured to',
    as: 'choice',
    options: [
      { value: 'point', label: 'the point of the drill' },
      { value: 'width', label: 'its full width' },
    ],
    when: (cut) => cut.depth !== undefined,
    hint: (_cut, { bit, job }) =>
      bit.kind === 'drill' ? `The point is ${len(pointLength(bit), job.units)} long.` : 'A straight bit has no point: both are the same.',
  },
  {
    key: 'throughAllowance',
    label: 'Into the spoilboard',
    as: 'length',
    min: 0,
    when: (cut) => cut.depth === undefined,
    hint: (_cut, { bit, job }) =>
      bit.kind === 'drill' ? `At full width; the point goes ${len(pointLength(bit), job.units)} deeper, so that the hole is open all the way.` : undefined,
  },
  {
    key: 'peck',
    label: 'Depth of each peck',
    as: 'length',
    min: 0.1,
    hint: () => 'After each the bit comes out to clear the chips. A straight bit cuts a wider hole in a helix; a drill does not.',
  },
  { key: 'dwell', label: 'Wait at the bottom', as: 'number', unit: 'seconds', min: 0, max: 60, step: 0.1 },
];

const engrave: Field<CutOf<'engrave'>>[] = [
  {
    key: 'way',
    label: 'It runs',
    as: 'choice',
    options: [
      { value: 'lines', label: 'along lines and outlines' },
      { value: 'centre', label: 'along the middle of strokes' },
      { value: 'fill', label: 'side by side, filling shapes' },
    ],
  },
  {
    key: 'depth',
    label: 'Depth',
    as: 'length',
    min: 0.01,
    hint: (cut, { bit, job }) => `The groove is ${len(grooveWidth(bit, cut.depth - cut.startDepth), job.units)} wide.`,
  },
  depthPerPass,
  {
    key: 'stepover',
    label: 'Between passes',
    as: 'length',
    min: 0.01,
    when: (cut) => cut.way === 'fill',
    empty: (cut, { bit, job }) => num(fillStep(bit, cut.depth - cut.startDepth), job.units),
  },
  startDepth,
];

const drag: Field<CutOf<'drag'>>[] = [
  { key: 'outline', label: 'Scratch the outline', as: 'flag' },
  {
    key: 'fill',
    label: 'Inside',
    as: 'choice',
    options: [
      { value: 'none', label: 'nothing' },
      { value: 'hatch', label: 'lines at an angle' },
      { value: 'cross', label: 'lines both ways' },
      { value: 'rings', label: 'rings inwards' },
    ],
  },
  {
    key: 'angle',
    label: 'Angle of the lines',
    as: 'number',
    unit: 'degrees',
    min: -360,
    max: 360,
    step: 0.1,
    when: (cut) => cut.fill === 'hatch' || cut.fill === 'cross',
  },
  {
    key: 'spacing',
    label: 'Between lines',
    as: 'length',
    min: 0.02,
    empty: (_cut, { bit, job }) => num(bit.kind === 'drag' ? bit.lineWidth : bit.diameter, job.units),
    when: (cut) => cut.fill !== 'none',
  },
  {
    key: 'hold.by',
    label: 'The point is held by',
    as: 'choice',
    options: [
      { value: 'spring', label: 'a spring' },
      { value: 'cone', label: 'a nose cone' },
    ],
  },
  {
    key: 'hold.preload',
    label: 'Spring pressed in by',
    as: 'length',
    min: 0.05,
    when: (cut) => cut.hold.by === 'spring',
    hint: () => 'How far Z goes below touch. It is not how deep the line is.',
  },
  {
    key: 'hold.protrusion',
    label: 'Point sticks out',
    as: 'length',
    min: 0.02,
    when: (cut) => cut.hold.by === 'cone',
    hint: () => 'The line is never deeper than this.',
  },
  { key: 'hold.passes', label: 'Passes', as: 'number', min: 1, max: 20, when: (cut) => cut.hold.by === 'cone' },
];

const fitted: Field<CutOf<'recess' | 'plug'>>[] = [
  {
    key: 'mate',
    label: 'The other half is cut by',
    as: 'choice',
    options: (_cut, { job }) =>
      Object.values(job.bits)
        .filter((bit) => bit.kind === 'end')
        .map((bit) => ({ value: bit.id, label: nameOf(bit) })),
  },
  { key: 'gap', label: 'Gap on every side', as: 'length', min: 0 },
  {
    key: 'plugShare',
    label: 'The gap is given by',
    as: 'choice',
    options: [
      { value: '1', label: 'the plug' },
      { value: '0.5', label: 'both, half each' },
      { value: '0', label: 'the recess' },
    ],
  },
  {
    key: 'corners',
    label: 'Corners are rounded',
    as: 'choice',
    options: [
      { value: 'needed', label: 'each by the bit that cuts it' },
      { value: 'all', label: 'all alike, by the wider bit' },
    ],
  },
  depthPerPass,
  direction,
];

const chamfer: Field<CutOf<'chamfer'>>[] = [
  { key: 'width', label: 'Width seen from above', as: 'length', min: 0.05 },
  {
    key: 'part',
    label: 'The part lies',
    as: 'choice',
    options: [
      { value: 'inside', label: 'inside the line' },
      { value: 'outside', label: 'outside (an opening)' },
    ],
  },
  { key: 'clear', label: 'Tip runs beyond the edge by', as: 'length', min: 0 },
];

const surface: Field<CutOf<'surface'>>[] = [
  {
    key: 'of',
    label: 'What is planed',
    as: 'choice',
    options: [
      { value: 'board', label: 'the board' },
      { value: 'spoilboard', label: 'the spoilboard: it is the board here' },
    ],
  },
  { key: 'skim', label: 'Taken off at a time', as: 'length', min: 0.01, hint: () => '0.2 mm is usual, never deeper.' },
  { key: 'repeats', label: 'Times', as: 'number', min: 1, max: 50 },
  { key: 'overlap', label: 'Middle of the bit beyond the edges', as: 'length', min: 0 },
  { key: 'stepover', label: 'Between lanes', as: 'length', min: 0.5, empty: (_cut, { bit, job }) => num(0.7 * cuttingWidth(bit), job.units) },
];

export const FIELDS = {
  vcarve,
  pocket,
  profile,
  drill,
  engrave,
  drag,
  recess: [{ key: 'depth', label: 'Depth', as: 'length', min: 0.1 }, clearing, ...fitted],
  plug: [{ key: 'skin', label: 'Skin left below the plug', as: 'length', min: 0 }, ...fitted],
  chamfer,
  surface,
} as unknown as Record<CutKind, Field[]>;

/** What stands at a path in a cut. */
export const valueAt = (cut: object, key: string): unknown =>
  key.split('.').reduce<unknown>((at, part) => (at as Record<string, unknown> | undefined)?.[part], cut);

/** Puts a value at a path of a draft; undefined takes it away. */
export function putAt(cut: object, key: string, value: unknown): void {
  const parts = key.split('.');
  const last = parts.pop()!;
  const at = parts.reduce<Record<string, unknown>>((inner, part) => inner[part] as Record<string, unknown>, cut as Record<string, unknown>);
  if (value === undefined) delete at[last];
  else at[last] = value;
  // The two ways of holding a diamond have figures of their own.
  if (key === 'hold.by') (cut as { hold: object }).hold = value === 'cone' ? { by: 'cone', protrusion: 0.25, passes: 2 } : { by: 'spring', preload: 2.5 };
}
