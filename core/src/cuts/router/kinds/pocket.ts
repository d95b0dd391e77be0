import { bitName, cuttingWidth, isPointed, isStraight, ridgeOf, stepOver, type PointedBit } from '../../../bits/index.ts';
import type { Bit } from '../../../bits/schema.ts';
import { boardThickness } from '../../../board/index.ts';
import { finding, type Finding } from '../../../findings/index.ts';
import { passesTo } from '../../bounds.ts';
import { clearingStep, depthPerPass, direction, startDepth } from '../../card.ts';
import { flat } from '../../expected.ts';
import type { BaseCut, CutJob, CutKind, CutMaker } from '../../kind.ts';
import { planPocket, PocketCut } from '../pocket.ts';
import { floorOf, VCarveCut } from '../vcarve.ts';

/** The V-carve whose floor a pocket clears. */
const carveOf = (cut: PocketCut, job: Pick<CutJob, 'cuts'>): VCarveCut | undefined => {
  const carve = cut.floorOf === undefined ? undefined : job.cuts[cut.floorOf];
  return carve?.kind === 'vcarve' ? (carve as VCarveCut) : undefined;
};

/** ... with its bit, when that can carve a floor. */
function floorCarve(cut: PocketCut, job: Pick<CutJob, 'cuts' | 'tools'>): { carve: VCarveCut; cone: PointedBit } | null {
  const carve = carveOf(cut, job);
  const cone: Bit | undefined = carve && job.tools[carve.tool];
  return carve && cone && isPointed(cone) ? { carve, cone } : null;
}

export const pocket: CutKind<PocketCut, typeof PocketCut> = {
  kind: 'pocket',
  process: 'router',
  label: 'pocket',
  title: 'Pocket',
  help: 'Clears a shape to a flat floor with a straight bit. A smaller bit after it cuts only what the first could not reach.',
  format:
    "`startDepth`, `depth`, `depthPerPass`, `stepover` (left out: 40 % of the bit), `pattern` (`rings`, or `lines` at an `angle`), `direction`, `allowance` taken by a last pass, `entry`, `after` (a bit that cleared before), `floorOf` (a V-carve whose floor it clears), `open` (runs out over the board's edge)",
  schema: PocketCut,
  tools: ['end', 'surfacing'],
  usualTarget: 'art',
  references: [
    { field: 'after', to: 'tool', says: (bit) => `comes after bit “${bit}”` },
    { field: 'floorOf', to: 'cut', says: (cut) => `clears the floor of “${cut}”`, kinds: ['vcarve'] },
  ],
  ofBitWidth: ['stepover'],
  hollow: 'upright',
  wrongBit: (_cut, bit) => (isStraight(bit) ? null : { need: 'a straight bit', forbids: true }),
  stage: () => 'carving',
  clearsFor: (cut, other) =>
    cut.floorOf === other.id || (other.kind === 'pocket' && (other as PocketCut).after === cut.tool && JSON.stringify(cut.on) === JSON.stringify(other.on)),
  depths: ({ startDepth, depth }) => ({ start: startDepth, end: depth }),
  looksAt: (cut, job) => (cut.floorOf !== undefined && job.cuts[cut.floorOf] ? [job.cuts[cut.floorOf]] : []),
  described: ({ cut, bit }, show) => `, depth per pass ${show(cut.depthPerPass)}, step-over ${show(stepOver(bit, cut.stepover))}, ${cut.pattern}`,
  figures: ({ facts, unreached }) => [
    { label: 'Deepest', value: facts.deepest, as: 'length' },
    ...(unreached !== undefined ? [{ label: 'Not reached', value: unreached, as: 'area' as const }] : []),
  ],
  fields: [
    { key: 'depth', label: 'Depth', as: 'length', min: 0.05, when: (cut) => cut.floorOf === undefined },
    depthPerPass,
    clearingStep,
    {
      key: 'pattern',
      label: 'Pass pattern',
      as: 'choice',
      options: [
        { value: 'rings', label: 'in rings, from the middle out' },
        { value: 'lines', label: 'in lines, and along the wall' },
      ],
    },
    { key: 'angle', label: 'Lines turned by', as: 'number', unit: 'degrees', min: -360, max: 360, step: 0.1, when: (cut) => cut.pattern === 'lines' },
    {
      key: 'after',
      label: 'Rest machining after',
      as: 'choice',
      when: (cut) => cut.floorOf === undefined,
      options: (cut, { job }) => [
        { value: '', label: 'nothing: clear it all' },
        ...Object.values(job.tools)
          .filter((bit) => bit.kind === 'end' && bit.id !== cut.tool)
          .map((bit) => ({ value: bit.id, label: bitName(bit, job.units) })),
      ],
    },
    { key: 'allowance', label: 'Left on the wall for a last pass', as: 'length', min: 0, under: 'Passes' },
    {
      key: 'entry',
      label: 'Entry',
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
  ],
  varyDepth: (cut, depth) => ({ ...cut, depth }),
  clearingStep: (cut, bit) => stepOver(bit, cut.stepover),
  tried: ({ cut, bit }) => ({ ridge: ridgeOf(bit, stepOver(bit, cut.stepover)), needsFloor: false }),
  faster({ cut, bit, facts }, { depthPerPass, show }) {
    const step = 0.5 * cuttingWidth(bit);
    return [
      ...(step > 1.05 * stepOver(bit, cut.stepover)
        ? [{ label: 'step over by half the bit’s width', cost: 'More load on the bit, and a coarser floor.', change: { stepover: step } }]
        : []),
      ...(cut.entry !== 'straight'
        ? [{ label: 'come down straight', cost: 'Only for bits that cut at their tip; chips clear worse.', change: { entry: 'straight' as const } }]
        : []),
      ...deeperPasses(cut, facts.deepest, depthPerPass, show),
    ];
  },
};

export const pocketMaker: CutMaker<PocketCut> = {
  work(cut, { bit, job }, shape) {
    const carve = carveOf(cut, job);
    const depth = carve ? (carve.floorDepth ?? boardThickness(job.board)) : cut.depth;
    return shape.passes(passesTo(depth, cut.depthPerPass), shape.cleared(stepOver(bit, cut.stepover)));
  },
  plan(cut, { bit, job, regions, regionsOf, travel }) {
    const thickness = boardThickness(job.board);
    const above = floorCarve(cut, job);
    if (above) {
      const floor = floorOf(regionsOf(above.carve), above.carve, above.cone);
      const plan = planPocket(floor.regions, { ...cut, depth: floor.depth }, bit, travel, { tolerance: job.tolerance });
      // Where it does not fit the V bit takes all, as it would without.
      return { ...plan, through: floor.depth >= thickness };
    }
    const plan = planPocket(regions, cut, bit, travel, { tolerance: job.tolerance, cleared: cut.after ? job.tools[cut.after] : undefined, board: job.board });
    return { ...plan, through: cut.depth >= thickness, findings: plan.unreachable > 0 ? [finding.bitTooLarge(cut.id, plan.unreachable)] : [] };
  },
  // What clears for a V-carve asks nothing of its own: the carve does.
  expected: ({ cut }, context) => (cut.floorOf === undefined ? flat(context, context.regions, cut.depth) : []),
  check({ cut }, { job }): Finding[] {
    const { after } = cut;
    const clears = (other: BaseCut) => other.id !== cut.id && other.kind === 'pocket' && other.tool === after;
    return after && !Object.values(job.cuts).some(clears) ? [finding.clearingMissing(cut.id, `bit “${job.tools[after]?.name || after}”`)] : [];
  },
};

/** More at a time, where a bit and its board bear it. */
export const deeperPasses = (cut: { depthPerPass: number }, deepest: number, depthPerPass: number, show: (mm: number) => string) =>
  depthPerPass > 1.05 * cut.depthPerPass && deepest > cut.depthPerPass
    ? [
        {
          label: `take ${show(depthPerPass)} at a time instead of ${show(cut.depthPerPass)}`,
          cost: 'More load on the bit; listen to it.',
          change: { depthPerPass },
        },
      ]
    : [];
