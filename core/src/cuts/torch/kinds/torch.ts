import { boardThickness, goneOf } from '../../../board/index.ts';
import { finding, type Finding } from '../../../findings/index.ts';
import { keptFor, contoursOf, insideRegion, intersect, offset, rectangle, regionArea, regionsBox, subtract, type Region } from '../../../geometry/index.ts';
import { flat, penStrokes, roundPart } from '../../expected.ts';
import type { Toolpath } from '../../../toolpath/index.ts';
import type { CutContext, CutKind, CutMaker } from '../../kind.ts';
import { nearbyRegions } from '../../nearby.ts';
import { poleOf } from '../leads.ts';
import { crowded } from '../order.ts';
import { roundFreed } from '../round.ts';
import { TorchCut } from '../cut.ts';
import { partsOf, planTorch } from '../torch.ts';

type Point = [number, number];

/** Places put by hand within the boxes of things, as points on the plate. */
const startsOf = (cut: TorchCut, { boxOf }: CutContext): Point[] =>
  cut.startsAt.flatMap(({ item, u, v }) => {
    const box = boxOf(item);
    return box ? [[box.minX + u * (box.maxX - box.minX), box.minY + v * (box.maxY - box.minY)] as Point] : [];
  });

export const torch: CutKind<TorchCut, typeof TorchCut> = {
  kind: 'torch',
  process: 'torch',
  label: 'torch cut',
  title: 'Torch cut',
  help: 'Cuts plate along outlines: parts outside their line, openings inside theirs. Every contour is pierced in the scrap, and what lies inside is cut first.',
  format:
    '`side` (`auto`: by what lies in what), `kerf`, `kerfBy` (`program` or `machine`), `lead` (`line`, `arc`, `straight`, `none`), `leadIn`, `leadOut`, `startsAt` (places by hand within the box of a thing), `crater`, `overcut`, `offEarly`, `corners` (`plain`, `triangle`, `round`), `cornerAngle`, `cornerLoop`, `cornerFeed`, `smallHole`, `smallHoleFeed`, `pierceHeight`, `pierceDelay`, `cutHeight`, `volts`, `heightControl`, `touch` (`each`, `far`, `never`), `touchAfter`, `floatTravel`, `microTab`, `spreadHeat`, `edgeStart`, `chain`, `rapids` (`round`, `straight`)',
  schema: TorchCut,
  tools: ['nozzle'],
  followsLines: true,
  usualTarget: 'art',
  unplaced: { startsAt: [] },
  byNesting: ({ side }) => side === 'auto',
  staysAbove: true,
  mayGoThrough: true,
  innerFirst: true,
  noChipLoad: true,
  wrongBit: (_cut, bit) => (bit.kind === 'nozzle' ? null : { need: 'a nozzle', forbids: true }),
  stage: ({ side }) => (side === 'inside' || side === 'on' ? 'openings' : 'outline'),
  leavesParts: ({ side }) => side === 'outside' || side === 'auto',
  avoidsParts: () => true,
  opens: ({ side }) => side === 'inside' || side === 'on',
  depths: () => ({ start: 0, end: undefined }),
  looksAtThings: ({ startsAt }) => startsAt.map(({ item }) => item),
  variant: ({ side }) => ` ${side}`,
  described: ({ cut, torch: facts }, show) =>
    `, kerf ${show(cut.kerf)} ${cut.kerfBy === 'program' ? 'offset by this program: none at the machine' : 'to be offset BY THE MACHINE'}, pierce ${show(cut.pierceHeight)} high for ${cut.pierceDelay} s, cut ${show(cut.cutHeight)} high, ${cut.volts} V, ${facts?.pierces ?? 0} ${facts?.pierces === 1 ? 'pierce' : 'pierces'}`,
  figures: ({ torch: facts }) => [
    { label: 'Pierces', value: facts?.pierces ?? 0, as: 'count' },
    { label: 'Kerf', value: facts?.kerf ?? 0, as: 'length' },
  ],
  fields: [
    {
      key: 'side',
      label: 'Side',
      as: 'choice',
      options: [
        { value: 'auto', label: 'automatic (by nesting)' },
        { value: 'outside', label: 'outside: keeps the part' },
        { value: 'inside', label: 'inside: an opening' },
        { value: 'on', label: 'on the line' },
      ],
    },
    { key: 'kerf', label: 'Kerf', as: 'length', min: 0.1 },
    {
      key: 'kerfBy',
      label: 'Kerf offset by',
      as: 'choice',
      options: [
        { value: 'program', label: 'the program' },
        { value: 'machine', label: 'the machine' },
      ],
      hint: (cut) => (cut.kerfBy === 'program' ? 'The machine must have no kerf set.' : 'The program runs on the line: the machine must have its kerf set.'),
    },
    {
      key: 'lead',
      label: 'Lead-in',
      as: 'choice',
      options: [
        { value: 'arc', label: 'in a quarter circle' },
        { value: 'line', label: 'slanting in' },
        { value: 'straight', label: 'straight in' },
        { value: 'none', label: 'none: pierced on the line' },
      ],
      when: (cut) => cut.side !== 'on',
    },
    { key: 'leadIn', label: 'Lead length', as: 'length', min: 0.5, when: (cut) => cut.lead !== 'none' && cut.side !== 'on' },
    { key: 'leadOut', label: 'Lead-out', as: 'length', min: 0, when: (cut) => cut.lead !== 'none' && cut.side !== 'on', under: 'Leads' },
    { key: 'crater', label: 'Crater of a pierce', as: 'length', min: 0, under: 'Leads' },
    { key: 'overcut', label: 'Overcut past the start of a hole', as: 'length', min: 0, under: 'Holes' },
    { key: 'offEarly', label: 'Arc off early by', as: 'length', min: 0, under: 'Holes' },
    { key: 'smallHole', label: 'Small holes: diameter below', as: 'length', min: 0, under: 'Holes' },
    { key: 'smallHoleFeed', label: 'Feed in small holes', as: 'number', unit: 'of the feed', min: 0.1, max: 1, step: 0.05, under: 'Holes' },
    {
      key: 'corners',
      label: 'Sharp corners',
      as: 'choice',
      options: [
        { value: 'plain', label: 'straight round' },
        { value: 'triangle', label: 'on into the scrap and back' },
        { value: 'round', label: 'with a loop in the scrap' },
      ],
      under: 'Corners',
    },
    { key: 'cornerAngle', label: 'Sharp corner: angle below', as: 'number', unit: 'degrees', min: 1, max: 170, under: 'Corners' },
    { key: 'cornerLoop', label: 'Loop into the scrap', as: 'length', min: 0.5, when: (cut) => cut.corners !== 'plain', under: 'Corners' },
    { key: 'cornerFeed', label: 'Feed round sharp corners', as: 'number', unit: 'of the feed', min: 0.1, max: 1, step: 0.05, under: 'Corners' },
    { key: 'pierceHeight', label: 'Pierce height', as: 'length', min: 0.5, under: 'Pierce and heights' },
    { key: 'pierceDelay', label: 'Pierce delay', as: 'number', unit: 'seconds', min: 0, max: 60, step: 0.1, under: 'Pierce and heights' },
    { key: 'cutHeight', label: 'Cut height', as: 'length', min: 0.3, under: 'Pierce and heights' },
    { key: 'volts', label: 'Arc voltage', as: 'number', unit: 'volts', min: 20, max: 400, under: 'Pierce and heights' },
    { key: 'heightControl', label: 'Height control where it moves at speed', as: 'flag', under: 'Pierce and heights' },
    {
      key: 'touch',
      label: 'Touch off the plate',
      as: 'choice',
      options: [
        { value: 'each', label: 'before each pierce' },
        { value: 'far', label: 'only far from the last touch' },
        { value: 'never', label: 'never: its top is flat and known' },
      ],
      under: 'Pierce and heights',
    },
    { key: 'touchAfter', label: 'Far means', as: 'length', min: 1, when: (cut) => cut.touch === 'far', under: 'Pierce and heights' },
    { key: 'floatTravel', label: 'Travel of the float switch', as: 'length', min: 0, when: (cut) => cut.touch !== 'never', under: 'Pierce and heights' },
    { key: 'microTab', label: 'Micro-tab length', as: 'length', min: 0, hint: (cut) => (cut.microTab > 0 ? 'It is broken off by hand.' : undefined) },
    { key: 'spreadHeat', label: 'Skip neighbours, so that heat spreads', as: 'flag' },
    {
      key: 'rapids',
      label: 'Travel over what is cut free',
      as: 'choice',
      options: [
        { value: 'round', label: 'goes round it where it can' },
        { value: 'straight', label: 'goes straight' },
      ],
    },
    {
      key: 'edgeStart',
      label: 'Start at the plate’s edge within',
      as: 'length',
      min: 0,
      under: 'Fewer pierces',
      when: (cut) => cut.side !== 'on' && cut.side !== 'inside' && cut.lead !== 'none',
      hint: (cut) => (cut.edgeStart > 0 ? 'An outline this near to it is begun there, without a pierce.' : '0: every contour is pierced.'),
    },
    {
      key: 'chain',
      label: 'Keep the arc on to the next outline within',
      as: 'length',
      min: 0,
      under: 'Fewer pierces',
      when: (cut) => cut.side !== 'on' && cut.side !== 'inside' && cut.lead !== 'none' && cut.kerfBy === 'program',
      hint: (cut) => (cut.chain > 0 ? 'The arc goes on through the scrap between them.' : '0: each is pierced.'),
    },
  ],
  // Nothing has a depth: what is tried on a trial plate is the kerf.
  varyDepth: (cut, depth) => ({ ...cut, kerf: depth }),
};

/** Places along the way of the arc that are looked at, mm apart. */
const LOOKED = 1;

/** Where the arc comes over what is cut out of the plate already; null where it never does. */
function overGone({ x, y, power }: Toolpath, gone: readonly Region[]): Point | null {
  if (gone.length === 0 || !power) return null;
  const near = nearbyRegions(gone);
  for (let i = 1; i < x.length; i++) {
    if (Number.isNaN(power[i])) continue;
    const steps = Math.max(1, Math.ceil(Math.hypot(x[i] - x[i - 1], y[i] - y[i - 1]) / LOOKED));
    for (let k = 1; k <= steps; k++) {
      const at: Point = [x[i - 1] + (k / steps) * (x[i] - x[i - 1]), y[i - 1] + (k / steps) * (y[i] - y[i - 1])];
      if (near.within(...at, 0).some((region) => insideRegion(region, ...at))) return at;
    }
  }
  return null;
}

/** Plate thinner than this warps when heat piles up, mm (common practice); so many contours close beside each other are a pile. */
const WARPS = 2;
const CROWD = 4;

/** A strip no wider than this share of a square of the plate's thickness is no web, but a corner. */
const WEB = 0.5;

/** What of the parts is narrower than the plate is thick: where they are grown back after shrinking, it is missing. */
function thinWebs(parts: readonly Region[], thickness: number): Region[] {
  const half = thickness / 2 - 0.02;
  return keptWebs(parts, String(thickness), () =>
    subtract(parts, offset(offset(parts, -half), half + 0.05, 'mitre')).filter((web) => regionArea(web) > WEB * thickness * thickness),
  );
}
const keptWebs = keptFor<Region[]>();

/** What of one part is taken by the arc that goes round another: an area for each two that are closer than the kerf. */
function bitten(parts: readonly Region[], kerf: number): Region[] {
  const boxes = parts.map((part) => regionsBox([part]));
  const grown = new Map<number, Region[]>();
  const reach = (k: number) => grown.get(k) ?? grown.set(k, offset([parts[k]], kerf - NEAR)).get(k)!;
  return parts.flatMap((part, i) =>
    boxes.slice(0, i).flatMap((other, j) => {
      const { minX, minY, maxX, maxY } = boxes[i];
      if (minX > other.maxX + kerf || maxX < other.minX - kerf || minY > other.maxY + kerf || maxY < other.minY - kerf) return [];
      return intersect(reach(j), [part]).slice(0, 1);
    }),
  );
}
/** So much nearer than the kerf is near enough to say so, mm. */
const NEAR = 0.02;

export const torchMaker: CutMaker<TorchCut> = {
  work: (_cut, _context, { outlines, passes }) => passes(1, outlines),
  plan(cut, context) {
    const { bit, job, regions, lines, travel } = context;
    const plate = { width: job.board.width, height: job.board.height, thickness: boardThickness(job.board) };
    const plan = planTorch(regions, lines, cut, bit, travel, { plate, starts: startsOf(cut, context), standing: context.standing(), gone: goneOf(job.board) });
    const findings: Finding[] = [];
    const open = cut.side === 'on' ? [] : lines.filter(({ closed }) => !closed);
    if (open.length > 0) findings.push(finding.openLines(cut.id, open.length, [open[0].line.xy[0], open[0].line.xy[1]]));
    if (plan.unreachable > 0) findings.push(finding.kerfTooWide(cut.id, plan.unreachable, cut.kerf));
    if (plan.noLead.length > 0) findings.push(finding.pierceOnLine(cut.id, plan.noLead.length, plan.noLead[0]));
    if (cut.kerfBy === 'machine') findings.push(finding.kerfAtMachine(cut.id, cut.kerf));
    const { path, ...facts } = plan;
    return { path, lifts: plan.pierces, through: true, torch: facts, findings };
  },
  travel({ path, torch: facts }, cut, { job: { board, program } }) {
    return cut.rapids === 'round' && facts ? roundFreed(path, facts.freeing, board, program.clearance) : path;
  },
  expected({ cut }, context) {
    const { job, regions, lines } = context;
    const depth = boardThickness(job.board) + 1;
    if (cut.side === 'on') return flat(context, penStrokes(lines, cut.kerf, regions.flatMap(contoursOf)), depth);
    return roundPart(context, partsFor(cut, context), cut.kerf / 2, depth, boardThickness(job.board));
  },
  check({ cut, torch: facts, path }, context) {
    const thickness = boardThickness(context.job.board);
    const found: Finding[] = [];
    const { width, height } = context.job.board;
    for (let i = 0; i < path.x.length; i++)
      if (path.x[i] < 0 || path.y[i] < 0 || path.x[i] > width || path.y[i] > height) {
        found.push(finding.offPlate(cut.id, [path.x[i], path.y[i]]));
        break;
      }
    const over = overGone(facts?.arc ?? path, goneOf(context.job.board));
    if (over) found.push(finding.overGone(cut.id, over));
    if (cut.side === 'on' || !facts) return found;
    const hot = thickness < WARPS && !cut.spreadHeat ? crowded(facts.contours.map(({ pierce }) => pierce)) : [];
    if (hot.length >= CROWD) found.push(finding.heatCrowded(cut.id, hot.length, thickness, hot[Math.floor(hot.length / 2)]));
    const holes = facts.parts.flatMap(({ holes: inner }) => inner.map(({ xy }) => poleOf(xy))).filter(({ distance }) => 2 * distance < thickness);
    if (holes.length > 0) {
      const least = holes.reduce((a, b) => (b.distance < a.distance ? b : a));
      found.push(finding.smallHole(cut.id, holes.length, 2 * least.distance, thickness, least.at));
    }
    const close = bitten(facts.parts, cut.kerf);
    if (close.length > 0) found.push(finding.partsTooClose(cut.id, close.length, cut.kerf, [close[0].outer.xy[0], close[0].outer.xy[1]]));
    const webs = thinWebs(facts.parts, thickness);
    if (webs.length > 0) found.push(finding.thinWeb(cut.id, webs.length, thickness, [webs[0].outer.xy[0], webs[0].outer.xy[1]]));
    return found;
  },
};

/** What must stay, on this plate. */
const partsFor = (cut: TorchCut, { job: { board }, regions }: CutContext): Region[] =>
  partsOf(regions, cut.side, { outer: rectangle(0, 0, board.width, board.height), holes: [] });
