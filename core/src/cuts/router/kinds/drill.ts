import { cuttingWidth, isStraight, pointLength } from '../../../bits/index.ts';
import { boardThickness } from '../../../board/index.ts';
import { finding, type Finding } from '../../../findings/index.ts';
import { circle, offset, type Region } from '../../../geometry/index.ts';
import { formatLength } from '../../../length/index.ts';
import { passesTo } from '../../bounds.ts';
import { flat } from '../../expected.ts';
import type { CutKind, CutMaker } from '../../kind.ts';
import { DrillCut, planDrill } from '../drill.ts';

export const drill: CutKind<DrillCut, typeof DrillCut> = {
  kind: 'drill',
  process: 'router',
  label: 'drill',
  title: 'Drill',
  help: 'Makes holes at circles, hole patterns and points, coming out after each peck to clear the chips. A straight bit widens a hole in a helix; a drill does not.',
  format:
    "`points`, `depth` (left out: through, at full width), `depthOf` (that depth is of the drill's `point` or of its full `width`), `throughAllowance`, `peck`, `dwell`",
  schema: DrillCut,
  tools: ['drill', 'end'],
  usualTarget: 'holes',
  unplaced: { points: [] },
  mayGoThrough: true,
  noChipLoad: true,
  ownPlaces: ({ points }) => points.length,
  wrongBit: (_cut, bit) => (bit.kind === 'drill' || bit.kind === 'end' ? null : { need: 'a drill or a straight bit', forbids: true }),
  stage: () => 'holes',
  depths: ({ depth }) => ({ start: 0, end: depth }),
  described: ({ cut }, show) => `, peck ${show(cut.peck)}${cut.dwell ? `, dwell ${cut.dwell} s` : ''}`,
  figures: ({ facts, holes }) => [
    { label: 'Deepest', value: facts.deepest, as: 'length' },
    { label: 'Holes', value: holes ?? 0, as: 'count' },
  ],
  fields: [
    {
      key: 'depth',
      label: 'Depth',
      as: 'length',
      min: 0.05,
      empty: () => 'through',
      hint: (cut, { bit, job }) =>
        cut.depth !== undefined && bit.kind === 'drill' ? `The point of this drill is ${formatLength(pointLength(bit), { unit: job.units })} long.` : undefined,
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
        bit.kind === 'drill' ? `The point is ${formatLength(pointLength(bit), { unit: job.units })} long.` : 'A straight bit has no point: both are the same.',
    },
    {
      key: 'throughAllowance',
      label: 'Depth into the spoilboard',
      as: 'length',
      min: 0,
      when: (cut) => cut.depth === undefined,
      hint: (_cut, { bit, job }) =>
        bit.kind === 'drill'
          ? `At full width; the point goes ${formatLength(pointLength(bit), { unit: job.units })} deeper, so that the hole is open all the way.`
          : undefined,
    },
    {
      key: 'peck',
      label: 'Peck depth',
      as: 'length',
      min: 0.1,
      hint: () => 'After each the bit comes out to clear the chips. A straight bit cuts a wider hole in a helix; a drill does not.',
    },
    { key: 'dwell', label: 'Dwell at the bottom', as: 'number', unit: 'seconds', min: 0, max: 60, step: 0.1 },
  ],
  varyDepth: (cut, depth) => ({ ...cut, depth }),
};

export const drillMaker: CutMaker<DrillCut> = {
  work(cut, { job, regions }, shape) {
    const depth = cut.depth ?? boardThickness(job.board) + cut.throughAllowance;
    const holes = regions.length + cut.points.length;
    const pecks = passesTo(depth, cut.peck);
    // Out of the hole and back at each peck; a hole wider than the bit is cut as a helix.
    return { passes: pecks, moves: 3 * pecks * holes + shape.points * pecks, hours: (holes * depth * pecks) / cut.plunge / 60 };
  },
  plan(cut, { bit, job, regions, travel }) {
    const plan = planDrill(regions, cut, bit, job.board, travel);
    const findings: Finding[] = [];
    if (plan.notRound > 0) findings.push(finding.notRound(cut.id, plan.notRound));
    if (plan.tooNarrow > 0) findings.push(finding.bitTooLarge(cut.id, plan.tooNarrow));
    if (plan.wider > 0) findings.push(finding.drillThin(cut.id, plan.wider, cuttingWidth(bit)));
    return { path: plan.path, lifts: plan.holes.length, through: plan.through, holes: plan.holes.length, findings };
  },
  expected({ cut, bit, facts }, context) {
    const points: Region[] = cut.points.map(([x, y]) => ({ outer: circle(x, y, cuttingWidth(bit) / 2), holes: [] }));
    const holes = [...context.regions, ...points];
    const whole = flat(context, holes, facts.deepest, isStraight(bit));
    // Of a drilled hole the full width is asked for down to where its point begins.
    return bit.kind === 'drill' ? [...whole, { kind: 'must', regions: offset(holes, -context.job.tolerance), depth: facts.deepest - pointLength(bit) }] : whole;
  },
};
