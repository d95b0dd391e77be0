import { fillStep, grooveWidth, radiusAt, shapeOf } from '../../../bits/index.ts';
import { boardThickness } from '../../../board/index.ts';
import { finding } from '../../../findings/index.ts';
import { contoursOf } from '../../../geometry/index.ts';
import { formatLength, formatNumber } from '../../../length/index.ts';
import { passesTo } from '../../bounds.ts';
import { depthPerPass, startDepth } from '../../card.ts';
import { flat, penStrokes } from '../../expected.ts';
import type { Removal } from '../../removal.ts';
import type { CutKind, CutMaker } from '../../kind.ts';
import { EngraveCut, linksOf, planEngrave } from '../engrave.ts';

export const engrave: CutKind<EngraveCut, typeof EngraveCut> = {
  kind: 'engrave',
  process: 'router',
  label: 'engrave',
  title: 'Engrave or groove',
  help: 'Draws grooves of one depth: along lines and outlines, along the middle of strokes, or side by side until shapes are filled.',
  format: '`way` (`lines`, `centre` of strokes, `fill`), `startDepth`, `depth`, `depthPerPass`, `stepover`, `joinWithin`',
  schema: EngraveCut,
  tools: ['v', 'engraving', 'ball', 'tapered', 'end'],
  followsLines: true,
  usualTarget: 'art',
  ofBitWidth: ['stepover'],
  fadesOnUneven: true,
  wrongBit: () => null,
  stage: () => 'carving',
  depths: ({ startDepth, depth }) => ({ start: startDepth, end: depth }),
  described: ({ cut, bit }, show) =>
    `, depth per pass ${show(cut.depthPerPass)}${cut.way === 'fill' ? `, filled, step-over ${show(fillStep(bit, cut.depth - cut.startDepth, cut.stepover))}` : ''}`,
  figures: ({ facts, passes, spots }) => [
    { label: 'Deepest', value: facts.deepest, as: 'length' },
    ...(passes !== undefined ? [{ label: 'Passes across the widest stroke', value: passes, as: 'count' as const }] : []),
    ...(spots !== undefined ? [{ label: 'Spots touched', value: spots.length, as: 'count' as const }] : []),
  ],
  fields: [
    {
      key: 'way',
      label: 'Path',
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
      hint: (cut, { bit, job }) => `The groove is ${formatLength(grooveWidth(bit, cut.depth - cut.startDepth), { unit: job.units })} wide.`,
    },
    depthPerPass,
    {
      key: 'stepover',
      label: 'Step-over',
      as: 'length',
      min: 0.01,
      when: (cut) => cut.way === 'fill',
      empty: (cut, { bit, job }) => formatNumber(fillStep(bit, cut.depth - cut.startDepth), { unit: job.units }),
    },
    {
      key: 'joinWithin',
      label: 'Join outlines nearer than',
      as: 'length',
      min: 0.01,
      when: (cut) => cut.way === 'lines',
      empty: () => 'not joined',
      hint: () => 'Outlines that nearly touch are cut in one go: the groove runs from one to the next instead of lifting.',
    },
    startDepth,
  ],
  varyDepth: (cut, depth) => ({ ...cut, depth }),
};

export const engraveMaker: CutMaker<EngraveCut> = {
  work: (cut, { bit }, shape) =>
    shape.passes(passesTo(cut.depth, cut.depthPerPass), cut.way === 'fill' ? shape.cleared(fillStep(bit, cut.depth, cut.stepover)) : shape.outlines),
  plan(cut, { bit, job, regions, lines, travel }) {
    const plan = planEngrave(regions, lines, cut, bit, travel, job.tolerance);
    return { ...plan, through: cut.depth >= boardThickness(job.board), findings: plan.unreachable ? [finding.bitTooLarge(cut.id, plan.unreachable)] : [] };
  },
  expected({ cut, bit }, context) {
    const { regions } = context;
    const shape = shapeOf(bit);
    const outlines = cut.way === 'lines' ? regions.flatMap(contoursOf) : [];
    const joints = (cut.way === 'lines' ? linksOf(regions, cut) : []).map(({ at: [a, b] }) => ({
      line: { xy: Float64Array.from([a.x, a.y, b.x, b.y]), smooth: new Uint8Array(2) },
      closed: false,
    }));
    const lines = [...context.lines, ...joints];
    const filled: Removal[] = cut.way === 'fill' ? [{ kind: 'walls', regions, shape, start: cut.startDepth, floor: cut.depth - cut.startDepth }] : [];
    return [
      ...filled,
      { kind: 'along', lines, outlines, shape, depth: cut.depth },
      ...flat(context, penStrokes(lines, 2 * radiusAt(shape, cut.depth), outlines), cut.depth, false),
      ...flat(context, cut.way === 'lines' ? [] : regions, cut.depth, false),
    ];
  },
  check: ({ cut, spots }) => (spots?.length ? [finding.spotsTouched(cut.id, spots.length)] : []),
};
