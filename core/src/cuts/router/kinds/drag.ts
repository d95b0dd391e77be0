import { cuttingWidth, SCRATCH } from '../../../bits/index.ts';
import { contoursOf } from '../../../geometry/index.ts';
import { formatNumber } from '../../../length/index.ts';
import { flat, penStrokes } from '../../expected.ts';
import type { CutKind, CutMaker } from '../../kind.ts';
import { DragCut, markWidth, planDrag } from '../drag.ts';

export const drag: CutKind<DragCut, typeof DragCut> = {
  kind: 'drag',
  process: 'router',
  label: 'drag-engrave',
  title: 'Drag-engrave',
  help: 'A diamond scratches the surface with the spindle off, in lines of a known width. It marks metal, glass and lacquer; it does not cut.',
  format:
    '`hold` (`spring` with its `preload`, or nose `cone` with `protrusion` and `passes`), `outline`, `fill` (`hatch`, `cross`, `rings`), `angle`, `spacing`; `speed` is 0',
  schema: DragCut,
  tools: ['drag'],
  followsLines: true,
  usualTarget: 'art',
  scratchDepth: SCRATCH,
  noChipLoad: true,
  wrongBit: (_cut, bit) => (bit.kind === 'drag' ? null : { need: 'a drag diamond, with the spindle off', forbids: true }),
  stage: () => 'carving',
  depths: () => ({ start: 0, end: undefined }),
  described: ({ cut }, show) =>
    cut.hold.by === 'spring' ? ', depth is the preload of the spring' : `, nose cone, point out ${show(cut.hold.protrusion)}, ${cut.hold.passes} passes`,
  figures: ({ bit, marked, overlap }) => [
    { label: 'Line width', value: markWidth(bit), as: 'length' },
    ...(marked !== undefined ? [{ label: 'Marked', value: marked, as: 'area' as const }] : []),
    ...(overlap !== undefined ? [{ label: 'Area covered twice', value: overlap, as: 'area' as const }] : []),
  ],
  fields: [
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
      empty: (_cut, { bit, job }) => formatNumber(markWidth(bit), { unit: job.units }),
      when: (cut) => cut.fill !== 'none',
    },
    {
      key: 'hold.by',
      label: 'Nose',
      as: 'choice',
      options: [
        { value: 'spring', label: 'a spring' },
        { value: 'cone', label: 'a nose cone' },
      ],
      // The two ways of holding a diamond have figures of their own.
      brings: (by) => ({ hold: by === 'cone' ? { by: 'cone', protrusion: 0.25, passes: 2 } : { by: 'spring', preload: 2.5 } }),
    },
    {
      key: 'hold.preload',
      label: 'Spring preload',
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
  ],
  varyDepth: (cut, depth) => ({ ...cut, hold: cut.hold.by === 'spring' ? { ...cut.hold, preload: depth } : { ...cut.hold, protrusion: depth } }),
};

export const dragMaker: CutMaker<DragCut> = {
  work(cut, { bit }, shape) {
    const width = bit.kind === 'drag' ? bit.lineWidth : cuttingWidth(bit);
    const passes = cut.hold.by === 'cone' ? cut.hold.passes : 1;
    const ways = cut.fill === 'none' ? 0 : cut.fill === 'cross' ? 2 : 1;
    const fill = shape.cleared(cut.spacing ?? width);
    return shape.passes(passes, ways === 0 ? shape.outlines : { length: ways * fill.length, points: ways * fill.points });
  },
  plan: (cut, { bit, regions, lines, travel }) => ({ ...planDrag(regions, lines, cut, bit, travel), through: false }),
  expected({ bit }, context) {
    const outlines = context.regions.flatMap(contoursOf);
    return flat(context, [...context.regions, ...penStrokes(context.lines, cuttingWidth(bit), outlines)], SCRATCH, false);
  },
};
