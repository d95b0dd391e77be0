/** Recess and plug: the two halves of an inlay cut with straight bits. */
import { bitName, cuttingWidth, stepOver } from '../../../bits/index.ts';
import { boardThickness } from '../../../board/index.ts';
import { finding, type Finding } from '../../../findings/index.ts';
import { passesTo } from '../../bounds.ts';
import { clearingStep, depthPerPass, direction, type Field } from '../../card.ts';
import { flat, roundPart } from '../../expected.ts';
import type { CutKind, CutMaker, FitResult, PlannedCut, Reference, Show, WrongBit } from '../../kind.ts';
import type { Bit } from '../../../bits/schema.ts';
import { PlugCut, planPlug, planRecess, RecessCut } from '../fit.ts';
import { smallOnVacuum } from '../parts.ts';

/** A plug with less room than this must be driven in; one with so much more than asked shows it, mm. */
const TIGHT = 0.02;
const UNEVEN = 0.05;

type FitCut = RecessCut | PlugCut;

const mate: Reference = { field: 'mate', to: 'tool', says: (bit) => `fits what bit “${bit}” cuts`, required: true };
const straightOnly = (_cut: FitCut, bit: Bit): WrongBit | null => (bit.kind === 'end' ? null : { need: 'a straight bit', forbids: true });

function fitFindings({ cut, fit }: PlannedCut<FitCut>): Finding[] {
  if (!fit) return [];
  return [
    ...(fit.gap.min < TIGHT ? [finding.plugTooTight(cut.id, fit.gap.min)] : []),
    ...(fit.gap.max > cut.gap + UNEVEN ? [finding.plugUneven(cut.id, fit.gap.max, cut.gap)] : []),
  ];
}

const describedFit = ({ cut, fit }: PlannedCut<FitCut>, show: Show): string =>
  `, depth per pass ${show(cut.depthPerPass)}, gap ${show(fit?.gap.min ?? cut.gap)} to ${show(fit?.gap.max ?? cut.gap)}`;

const fitFigures = (deepest: number, fit: FitResult | undefined) => [
  { label: 'Deepest', value: deepest, as: 'length' as const },
  ...(fit
    ? [
        { label: 'Gap, smallest', value: fit.gap.min, as: 'length' as const },
        { label: 'Gap, largest', value: fit.gap.max, as: 'length' as const },
      ]
    : []),
];

/** The cut of the other half, with the bit it was planned for. */
function half<C extends FitCut>(cut: FitCut, kind: C['kind'], name: string, schema: { parse(data: unknown): C }) {
  const { mate: tool, tool: other, id, on, corners, gap, plugShare, depthPerPass, direction } = cut;
  const made = schema.parse({ kind, id, name, on, tool, mate: other, corners, gap, plugShare, depthPerPass, direction });
  return { ok: true as const, cut: made, what: kind, told: [], mirrored: false };
}

/** Fields of both halves. */
const fitFields: Field<FitCut>[] = [
  {
    key: 'mate',
    label: 'Other half is cut by',
    as: 'choice',
    options: (_cut, { job }) =>
      Object.values(job.tools)
        .filter((bit) => bit.kind === 'end')
        .map((bit) => ({ value: bit.id, label: bitName(bit, job.units) })),
  },
  { key: 'gap', label: 'Gap on every side', as: 'length', min: 0 },
  {
    key: 'plugShare',
    label: 'Take the gap from',
    as: 'choice',
    options: [
      { value: '1', label: 'the plug' },
      { value: '0.5', label: 'both, half each' },
      { value: '0', label: 'the recess' },
    ],
  },
  {
    key: 'corners',
    label: 'Corner radius',
    as: 'choice',
    options: [
      { value: 'needed', label: 'each by the bit that cuts it' },
      { value: 'all', label: 'all alike, by the wider bit' },
    ],
  },
  depthPerPass,
  direction,
];

export const recess: CutKind<RecessCut, typeof RecessCut> = {
  kind: 'recess',
  process: 'router',
  label: 'recess',
  title: 'Recess for a plug',
  help: 'Sinks the shape that a plug of another material is glued into. Both halves are rounded alike, so that they fit.',
  format: '`mate` (the bit of the other half), `gap`, `plugShare`, `corners`, `depthPerPass`, `direction`; `depth`, `stepover`',
  schema: RecessCut,
  tools: ['end'],
  usualTarget: 'art',
  references: [mate],
  ofBitWidth: ['stepover'],
  hollow: 'upright',
  wrongBit: straightOnly,
  stage: () => 'carving',
  depths: ({ depth }) => ({ start: 0, end: depth }),
  described: describedFit,
  figures: ({ facts, fit, unreached }) => [
    ...fitFigures(facts.deepest, fit),
    ...(unreached !== undefined ? [{ label: 'Not reached', value: unreached, as: 'area' as const }] : []),
  ],
  fields: [{ key: 'depth', label: 'Depth', as: 'length', min: 0.1 }, clearingStep, ...fitFields],
  varyDepth: (cut, depth) => ({ ...cut, depth }),
  otherHalf: (cut) => half(cut, 'plug', 'Cut the plug', PlugCut),
};

export const recessMaker: CutMaker<RecessCut> = {
  work: (cut, { bit }, shape) => shape.passes(passesTo(cut.depth, cut.depthPerPass), shape.cleared(stepOver(bit, cut.stepover))),
  plan(cut, { bit, job, regions, travel }) {
    const plan = planRecess(regions, cut, bit, job.tools[cut.mate], travel);
    return { ...plan, through: cut.depth >= boardThickness(job.board), findings: plan.unreachable > 0 ? [finding.bitTooLarge(cut.id, plan.unreachable)] : [] };
  },
  expected: ({ cut, fit }, context) => flat(context, fit?.recess ?? context.regions, cut.depth),
  check: fitFindings,
};

export const plug: CutKind<PlugCut, typeof PlugCut> = {
  kind: 'plug',
  process: 'router',
  label: 'plug',
  title: 'Plug for a recess',
  help: 'Cuts out the piece that goes into a recess, with the room for glue that was chosen. A thin skin may hold it until the end.',
  format: '`mate`, `gap`, `plugShare`, `corners`, `depthPerPass`, `direction` as a recess; `skin` left below it',
  schema: PlugCut,
  tools: ['end'],
  usualTarget: 'art',
  references: [mate],
  mayGoThrough: true,
  innerFirst: true,
  wrongBit: straightOnly,
  stage: () => 'outline',
  leavesParts: () => true,
  depths: ({ skin }, { board }) => ({ start: 0, end: boardThickness(board) - skin }),
  described: (planned, show) => `${describedFit(planned, show)}, skin ${show(planned.cut.skin)}`,
  figures: ({ facts, fit }) => fitFigures(facts.deepest, fit),
  fields: [{ key: 'skin', label: 'Onion skin below the plug', as: 'length', min: 0 }, ...fitFields],
  varyDepth: (cut, skin) => ({ ...cut, skin }),
  otherHalf: (cut) => half(cut, 'recess', 'Sink the recess', RecessCut),
};

export const plugMaker: CutMaker<PlugCut> = {
  work: (cut, { job }, shape) => shape.passes(passesTo(boardThickness(job.board), cut.depthPerPass), shape.outlines),
  plan(cut, { bit, job, regions, travel }) {
    const plan = planPlug(regions, cut, bit, job.tools[cut.mate], job.board, travel);
    return { ...plan, lifts: plan.tabs.length, findings: plan.unreachable > 0 ? [finding.bitTooLarge(cut.id, plan.unreachable)] : [] };
  },
  expected: ({ bit, fit, facts }, context) => roundPart(context, fit?.plug ?? context.regions, cuttingWidth(bit) / 2, facts.deepest, facts.deepest),
  check(planned, { job: { board } }) {
    const { cut, through, fit } = planned;
    const loose = !through
      ? []
      : board.holdDown === 'vacuum'
        ? smallOnVacuum(cut.id, fit?.plug ?? [])
        : board.holdDown === 'tape'
          ? []
          : [finding.freedPart(cut.id)];
    return [...loose, ...fitFindings(planned)];
  },
};
