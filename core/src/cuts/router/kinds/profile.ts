import { cuttingWidth, isStraight, radiusAt, shapeOf } from '../../../bits/index.ts';
import { boardThickness } from '../../../board/index.ts';
import { finding, type Finding } from '../../../findings/index.ts';
import { contoursOf, offset, subtract, unite } from '../../../geometry/index.ts';
import { formatLength } from '../../../length/index.ts';
import { passesTo } from '../../bounds.ts';
import { depthPerPass, direction, startDepth } from '../../card.ts';
import { flat, penStrokes, roundPart } from '../../expected.ts';
import type { CutContext, CutKind, CutMaker } from '../../kind.ts';
import { smallOnVacuum } from '../parts.ts';
import { planProfile, profileDepth, ProfileCut } from '../profile.ts';
import { deeperPasses } from './pocket.ts';

const leads = (cut: ProfileCut): boolean => cut.lead !== 'none';

/** Places put by hand within the boxes of things, as points on the board. */
const handTabs = (cut: ProfileCut, { boxOf }: CutContext): [number, number][] =>
  cut.tabsAt.flatMap(({ item, u, v }) => {
    const box = boxOf(item);
    return box ? [[box.minX + u * (box.maxX - box.minX), box.minY + v * (box.maxY - box.minY)] as [number, number]] : [];
  });

export const profile: CutKind<ProfileCut, typeof ProfileCut> = {
  kind: 'profile',
  process: 'router',
  label: 'profile',
  title: 'Profile',
  help: 'Cuts along an outline: outside it to free a part, inside for an opening, on it for a groove. Tabs hold what comes free.',
  format:
    '`side` (`auto`: by what lies in what), `startDepth`, `depth` (left out: through), `throughAllowance`, `skin`, `depthPerPass`, `direction`, `allowance`, `entry`, `lead` and `leadLength`, `outsideCorners`, `insideCorners`, `tabs` or `tabEvery`, `tabWidth`, `tabHeight`, `tabShape`, `tabsAt` (places by hand within the box of a thing)',
  schema: ProfileCut,
  tools: ['end', 'v', 'ball'],
  usualTarget: 'outline',
  again: { on: 'holes', side: 'inside' },
  unplaced: { tabsAt: [] },
  byNesting: ({ side }) => side === 'auto',
  mayGoThrough: true,
  innerFirst: true,
  wrongBit: (cut, bit) => (bit.kind === 'end' || cut.side === 'on' ? null : { need: 'a straight bit', forbids: false }),
  stage(cut, { board }) {
    if (cut.depth !== undefined && cut.depth < board.thickness) return 'carving';
    return cut.side === 'inside' || cut.side === 'on' ? 'openings' : 'outline';
  },
  leavesParts: ({ side }) => side === 'outside' || side === 'auto',
  avoidsParts: leads,
  opens: (cut, { board }) => (cut.depth === undefined || cut.depth >= board.thickness) && cut.skin === 0 && (cut.side === 'inside' || cut.side === 'on'),
  missesNarrow: ({ side }) => side === 'inside',
  depths: (cut, { board }) => ({ start: cut.startDepth, end: profileDepth(cut, board) }),
  looksAtThings: ({ tabsAt }) => tabsAt.map(({ item }) => item),
  variant: ({ side }) => ` ${side}`,
  described: ({ cut, tabs }, show) =>
    `, depth per pass ${show(cut.depthPerPass)}, ${cut.skin > 0 && cut.depth === undefined ? `skin ${show(cut.skin)}` : `${Math.max(0, ...(tabs ?? []))} tabs`}`,
  figures: ({ facts, tabPoints }) => [
    { label: 'Deepest', value: facts.deepest, as: 'length' },
    { label: 'Tabs', value: tabPoints?.length ?? 0, as: 'count' },
  ],
  fields: [
    {
      key: 'side',
      label: 'Side',
      as: 'choice',
      options: [
        { value: 'outside', label: 'outside: keeps the part' },
        { value: 'inside', label: 'inside: an opening' },
        { value: 'on', label: 'on the line: a groove' },
        { value: 'auto', label: 'automatic (by nesting)' },
      ],
    },
    {
      key: 'depth',
      label: 'Depth',
      as: 'length',
      min: 0.05,
      empty: () => 'through',
      hint: (cut, { job }) =>
        cut.depth === undefined && cut.skin === 0
          ? `Empty: through the board, ${formatLength(boardThickness(job.board) + cut.throughAllowance, { unit: job.units })}.`
          : undefined,
    },
    { key: 'throughAllowance', label: 'Depth into the spoilboard', as: 'length', min: 0, when: (cut) => cut.depth === undefined && cut.skin === 0 },
    { key: 'skin', label: 'Onion skin', as: 'length', min: 0, when: (cut) => cut.depth === undefined, under: 'Passes' },
    depthPerPass,
    { key: 'tabs', label: 'Tabs', as: 'number', unit: 'on a line', min: 0, max: 50, when: (cut) => cut.tabEvery === undefined && cut.tabsAt.length === 0 },
    { key: 'tabEvery', label: 'Tab spacing', as: 'length', min: 5, empty: () => 'by number', when: (cut) => cut.tabsAt.length === 0, under: 'Tabs' },
    { key: 'tabWidth', label: 'Tab width', as: 'length', min: 0.2, under: 'Tabs' },
    { key: 'tabHeight', label: 'Tab height', as: 'length', min: 0.1, under: 'Tabs' },
    {
      key: 'tabShape',
      label: 'Tab shape',
      as: 'choice',
      options: [
        { value: 'square', label: 'square' },
        { value: 'ramped', label: 'ramped' },
      ],
      under: 'Tabs',
    },
    {
      key: 'entry',
      label: 'Entry',
      as: 'choice',
      options: [
        { value: 'straight', label: 'straight' },
        { value: 'ramp', label: 'along the pass' },
      ],
      under: 'Passes',
    },
    {
      key: 'lead',
      label: 'Lead-in',
      as: 'choice',
      options: [
        { value: 'none', label: 'head on' },
        { value: 'line', label: 'slanting in' },
        { value: 'arc', label: 'in a quarter circle' },
      ],
      when: (cut) => cut.side !== 'on',
      under: 'Passes',
    },
    { key: 'leadLength', label: 'Lead length', as: 'length', min: 0.2, when: (cut) => cut.lead !== 'none' && cut.side !== 'on', under: 'Passes' },
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
  ],
  varyDepth: (cut, depth) => ({ ...cut, depth }),
  faster: ({ cut, facts }, { depthPerPass, show }) => [
    ...(cut.entry === 'ramp'
      ? [{ label: 'come down straight', cost: 'Only for bits that cut at their tip; it marks the edge there.', change: { entry: 'straight' as const } }]
      : []),
    ...deeperPasses(cut, facts.deepest, depthPerPass, show),
  ],
};

export const profileMaker: CutMaker<ProfileCut> = {
  work(cut, { job }, { outlines, length, passes }) {
    const tabs = cut.tabEvery ? length / cut.tabEvery : 0;
    return passes(passesTo(profileDepth(cut, job.board), cut.depthPerPass), { length, points: outlines.points + 4 * tabs });
  },
  plan(cut, context) {
    const { bit, job, regions, travel } = context;
    const plan = planProfile(regions, cut, bit, job.board, travel, {
      tolerance: job.tolerance,
      tabPoints: handTabs(cut, context),
      standing: leads(cut) ? context.standing() : [],
    });
    const findings: Finding[] = [];
    if (plan.unreachable > 0) findings.push(finding.bitTooLarge(cut.id, plan.unreachable));
    if (cut.allowance < 0) findings.push(finding.allowanceNegative(cut.id, cut.allowance));
    if (plan.noLead > 0) findings.push(finding.noLead(cut.id, plan.noLead));
    return { ...plan, lifts: plan.tabs.length, findings };
  },
  expected({ cut, bit, through, tabs }, context) {
    const { job, regions, lines } = context;
    const outlines = regions.flatMap(contoursOf);
    const half = cuttingWidth(bit) / 2;
    const depth = profileDepth(cut, job.board);
    if (cut.side === 'on') return flat(context, penStrokes(lines, 2 * radiusAt(shapeOf(bit), depth), outlines), depth, isStraight(bit));
    const kept = through && tabs?.some((count) => count > 0) ? boardThickness(job.board) - cut.tabHeight : depth;
    if (cut.side !== 'inside') return roundPart(context, cut.side === 'auto' ? unite(outlines, 'evenodd') : regions, half, depth, kept);
    return [
      { kind: 'may', regions: offset(regions, job.tolerance), depth },
      { kind: 'must', regions: subtract(offset(regions, -job.tolerance), offset(regions, -half)), depth: kept },
    ];
  },
  check({ cut, through, tabs = [] }, { job: { board }, regions }) {
    if (!through || cut.side === 'on') return [];
    if (cut.tabs === 0 && cut.tabsAt.length === 0) {
      if (board.holdDown === 'vacuum') return smallOnVacuum(cut.id, regions);
      return board.holdDown === 'tape' ? [] : [finding.freedPart(cut.id)];
    }
    if (board.holdDown === 'tape') return [];
    const wanted = cut.tabsAt.length > 0 ? 2 : Math.min(cut.tabs, 2);
    const fewest = Math.min(...tabs);
    return fewest < wanted ? [finding.fewTabs(cut.id, Math.max(wanted, cut.tabs), fewest)] : [];
  },
};
