import type { CutKind, CutMaker } from '../../kind.ts';
import { MarkCut, planMark } from '../mark.ts';

export const mark: CutKind<MarkCut, typeof MarkCut> = {
  kind: 'mark',
  process: 'torch',
  label: 'mark',
  title: 'Mark',
  help: 'Marks without cutting through: a dimple in the middle of each hole, for the drill, or lines to bend, weld or paint by.',
  format:
    '`how` (`dimple` or `line`), `seconds` the arc stands on a dimple, `height`, `amperes` (the source set lower while it marks), `touch` (`each`, `never`), `floatTravel`',
  schema: MarkCut,
  tools: ['nozzle'],
  followsLines: true,
  usualTarget: 'holes',
  staysAbove: true,
  noChipLoad: true,
  wrongBit: (_cut, bit) => (bit.kind === 'nozzle' ? null : { need: 'a nozzle', forbids: true }),
  stage: () => 'holes',
  depths: () => ({ start: 0, end: undefined }),
  variant: ({ how }) => ` ${how}`,
  described: ({ cut, holes }, show) =>
    `, ${holes ?? 0} marks ${show(cut.height)} above the plate${cut.how === 'dimple' ? `, ${cut.seconds} s each` : ''}${cut.amperes > 0 ? `, SET THE SOURCE TO ${cut.amperes} A` : ''}`,
  figures: ({ holes }) => [{ label: 'Marks', value: holes ?? 0, as: 'count' }],
  fields: [
    {
      key: 'how',
      label: 'Marks',
      as: 'choice',
      options: [
        { value: 'dimple', label: 'the middle of each hole, for the drill' },
        { value: 'line', label: 'along lines and outlines' },
      ],
    },
    { key: 'seconds', label: 'Arc on for', as: 'number', unit: 'seconds', min: 0.01, max: 5, step: 0.01, when: ({ how }) => how === 'dimple' },
    { key: 'height', label: 'Height above the plate', as: 'length', min: 0.5 },
    {
      key: 'amperes',
      label: 'Source set to',
      as: 'number',
      unit: 'amperes',
      min: 0,
      max: 400,
      hint: ({ amperes }) => (amperes > 0 ? 'Set at the source by hand: the sheet and the program say so.' : '0: as for the cut.'),
    },
    {
      key: 'touch',
      label: 'Touch off the plate',
      as: 'choice',
      options: [
        { value: 'each', label: 'before each mark' },
        { value: 'never', label: 'never: its top is flat and known' },
      ],
    },
    { key: 'floatTravel', label: 'Travel of the float switch', as: 'length', min: 0, when: (cut) => cut.touch !== 'never' },
  ],
  varyDepth: (cut, depth) => ({ ...cut, height: depth }),
};

export const markMaker: CutMaker<MarkCut> = {
  work: (_cut, _context, { outlines, passes }) => passes(1, outlines),
  plan(cut, { regions, lines, travel }) {
    const { path, marks } = planMark(regions, lines, cut, travel);
    return { path, lifts: marks, through: false, holes: marks };
  },
  // Nothing of the plate is taken away that could be compared.
  expected: () => [],
};
