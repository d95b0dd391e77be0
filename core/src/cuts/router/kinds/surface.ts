import { cuttingWidth, isStraight, stepOver } from '../../../bits/index.ts';
import { finding } from '../../../findings/index.ts';
import { formatNumber } from '../../../length/index.ts';
import { flat, wholeBoard } from '../../expected.ts';
import type { CutKind, CutMaker } from '../../kind.ts';
import { planSurface, SurfaceCut } from '../surface.ts';

/** Taken off the spoilboard at a time at most, mm (common practice: 0.2 mm or 0.010 in). */
const SKIM = 0.254;

export const surface: CutKind<SurfaceCut, typeof SurfaceCut> = {
  kind: 'surface',
  process: 'router',
  label: 'surface',
  title: 'Surface',
  help: 'Skims the whole board flat, or the spoilboard under it, a little at a time until no mark is left.',
  format: '`of` (board or spoilboard), `skim`, `repeats`, `startDepth`, `stepover`, `overlap`',
  schema: SurfaceCut,
  tools: ['surfacing', 'end'],
  wholeBoard: true,
  usualTarget: 'art',
  ofBitWidth: ['stepover'],
  wrongBit: (_cut, bit) => (isStraight(bit) ? null : { need: 'a straight bit', forbids: true }),
  stage: () => 'surface',
  planes: ({ of, skim, repeats, startDepth: from = 0 }) => ({ of, skim, from, to: from + skim * repeats }),
  depths: ({ startDepth }) => ({ start: startDepth ?? 0, end: undefined }),
  described: ({ cut, bit, step }, show) =>
    `, ${cut.of}, skim ${show(cut.skim)} ${cut.repeats} times, bit ${show(bit.diameter)}, step-over ${show(step ?? 0)}, overlap ${show(cut.overlap)}`,
  figures: ({ facts, step }) => [
    { label: 'Deepest', value: facts.deepest, as: 'length' },
    ...(step !== undefined ? [{ label: 'Between lanes', value: step, as: 'length' as const }] : []),
  ],
  fields: [
    {
      key: 'of',
      label: 'Surface to skim',
      as: 'choice',
      options: [
        { value: 'board', label: 'the board' },
        { value: 'spoilboard', label: 'the spoilboard: it is the board here' },
      ],
    },
    { key: 'skim', label: 'Taken off at a time', as: 'length', min: 0.01, hint: () => '0.2 mm is usual, never deeper.' },
    { key: 'repeats', label: 'Times', as: 'number', min: 1, max: 50 },
    { key: 'startDepth', label: 'Depth already taken off', as: 'length', min: 0, empty: () => '0', hint: () => 'From the same zero: it goes on below that.' },
    { key: 'overlap', label: 'Overrun', as: 'length', min: 0 },
    {
      key: 'stepover',
      label: 'Between lanes',
      as: 'length',
      min: 0.5,
      empty: (_cut, { bit, job }) => formatNumber(0.7 * cuttingWidth(bit), { unit: job.units }),
    },
  ],
  varyDepth: (cut, skim) => ({ ...cut, skim }),
};

export const surfaceMaker: CutMaker<SurfaceCut> = {
  work(cut, { bit, job }, shape) {
    const { width, height } = job.board;
    const lanes = Math.min(width, height) / stepOver(bit, cut.stepover ?? 0.7 * cuttingWidth(bit));
    return shape.passes(cut.repeats, { length: lanes * Math.max(width, height), points: 2 * lanes });
  },
  plan: (cut, { bit, job, travel }) => ({ ...planSurface(cut, bit, job.board, travel), through: false }),
  expected: ({ facts }, context) => flat(context, wholeBoard(context), facts.deepest),
  check: ({ cut }) => [...(cut.skim > SKIM ? [finding.skimDeep(cut.id, cut.skim)] : []), ...(cut.of === 'spoilboard' ? [finding.spoilboardBare(cut.id)] : [])],
};
