import { cuttingWidth, isPointed } from '../../../bits/index.ts';
import { finding, type Finding } from '../../../findings/index.ts';
import { offset, subtract } from '../../../geometry/index.ts';
import { joined } from '../../../toolpath/index.ts';
import type { CutKind, CutMaker } from '../../kind.ts';
import { ChamferCut, planChamfer } from '../chamfer.ts';

export const chamfer: CutKind<ChamferCut, typeof ChamferCut> = {
  kind: 'chamfer',
  process: 'router',
  label: 'chamfer',
  title: 'Chamfer',
  help: 'Runs a V bit along an outline so that its edge gets a bevel.',
  format: '`width` from above, `part` (inside or outside of the line), `clear`',
  schema: ChamferCut,
  tools: ['v', 'engraving', 'tapered'],
  usualTarget: 'art',
  wrongBit: (_cut, bit) => (isPointed(bit) ? null : { need: 'a V bit', forbids: true }),
  stage: () => 'edges',
  depths: () => ({ start: 0, end: undefined }),
  described: ({ cut }, show) => `, bevel ${show(cut.width)} wide`,
  figures: ({ facts }) => [{ label: 'Deepest', value: facts.deepest, as: 'length' }],
  fields: [
    { key: 'width', label: 'Width seen from above', as: 'length', min: 0.05 },
    {
      key: 'part',
      label: 'Side',
      as: 'choice',
      options: [
        { value: 'inside', label: 'inside the line' },
        { value: 'outside', label: 'outside (an opening)' },
      ],
    },
    { key: 'clear', label: 'Tip runs beyond the edge by', as: 'length', min: 0 },
  ],
  varyDepth: (cut, width) => ({ ...cut, width }),
};

export const chamferMaker: CutMaker<ChamferCut> = {
  work: (_cut, _context, shape) => shape.passes(1, shape.outlines),
  plan(cut, { bit, regions, travel }) {
    if (!isPointed(bit)) return { path: joined([]), lifts: 0, through: false };
    const plan = planChamfer(regions, cut, bit, travel);
    const findings: Finding[] = [];
    if (plan.unreachable > 0) findings.push(finding.bitTooLarge(cut.id, plan.unreachable));
    if (plan.tooWide) findings.push(finding.bevelTooWide(cut.id, cut.width));
    return { ...plan, through: false, findings };
  },
  expected({ cut, bit, facts }, { job: { tolerance }, regions }) {
    const width = cuttingWidth(bit);
    const [outer, inner] = cut.part === 'inside' ? [cut.clear + width, -cut.width] : [cut.width, -cut.clear - width];
    return [{ kind: 'may', regions: subtract(offset(regions, outer + tolerance), offset(regions, inner - tolerance)), depth: facts.deepest }];
  },
};
