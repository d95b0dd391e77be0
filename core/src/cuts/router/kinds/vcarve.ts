import { deepestOfV, grooveWidth, isPointed, radiusAt, ridgeOf, shapeOf, depthForStroke, evenFrom, type PointedBit } from '../../../bits/index.ts';
import { boardThickness } from '../../../board/index.ts';
import { finding, type Finding } from '../../../findings/index.ts';
import { contoursOf, subtract, type Contour } from '../../../geometry/index.ts';
import { formatLength } from '../../../length/index.ts';
import { joined } from '../../../toolpath/index.ts';
import { passesTo } from '../../bounds.ts';
import { startDepth } from '../../card.ts';
import { wholeBoard } from '../../expected.ts';
import type { Removal } from '../../removal.ts';
import type { CutContext, CutKind, CutMaker, PlannedCut } from '../../kind.ts';
import { carvedRegions, floorStep, planVCarve, VCarveCut } from '../vcarve.ts';

/** Strokes finer than this many tips carve to mush. (Common practice.) */
const TIPS = 2;
/** Ridges that come this near to what they face touch it, mm. */
const PROUD = 0.05;
/** Turns sharper than this are corners to an inlay, radians. */
const CORNER = 0.5;
/** What is left between the top of a ridge and what it faces, mm. */
const CLEAR = 0.05;

export const vcarve: CutKind<VCarveCut, typeof VCarveCut> = {
  kind: 'vcarve',
  process: 'router',
  label: 'V-carve',
  title: 'V-carve',
  help: 'Carves letters and ornaments: the V goes deeper where a stroke is wider, so that both its edges are met. With a floor wide strokes stay shallow.',
  format:
    '`startDepth`, `floorDepth` (left out: as deep as each stroke is wide), `stepover` on the floor, `depthPerPass` (left out: at once), `after` (the bit of a pocket with `floorOf` this cut), `plug` with its `margin`: carved round the drawing, walls on the line at the start depth',
  schema: VCarveCut,
  tools: ['v', 'engraving', 'tapered'],
  usualTarget: 'art',
  // Where the bit could go through, wide strokes stop at a flat floor with half the board under them.
  begins: (bit, board) => (isPointed(bit) && deepestOfV(bit) > (2 / 3) * boardThickness(board) ? { floorDepth: boardThickness(board) / 2 } : {}),
  references: [{ field: 'after', to: 'tool', says: (bit) => `comes after bit “${bit}”` }],
  hollow: 'leaning',
  fadesOnUneven: true,
  floorField: (cut) => (cut.plug ? null : 'floorDepth'),
  wrongBit: (_cut, bit) => (isPointed(bit) ? null : { need: 'a V bit', forbids: true }),
  stage: () => 'carving',
  depths: ({ startDepth }) => ({ start: startDepth, end: undefined }),
  fluteDepth: (cut, deepest) => (cut.plug ? deepest : deepest - cut.startDepth),
  described: ({ cut }, show) =>
    `, step-over ${show(cut.stepover)}${cut.startDepth ? `, start ${show(cut.startDepth)}` : ''}${cut.plug ? ', round a plug' : ''}`,
  figures: ({ cut, bit, facts, widest }) => [
    { label: 'Deepest', value: facts.deepest, as: 'length' },
    ...(!cut.plug && widest !== undefined
      ? [
          { label: 'Widest stroke', value: 2 * widest, as: 'length' as const },
          { label: 'Groove width there', value: grooveWidth(bit, facts.deepest - cut.startDepth), as: 'length' as const },
        ]
      : []),
    ...(cut.floorDepth !== undefined ? [{ label: 'Ridge on the floor', value: ridgeOf(bit, cut.stepover), as: 'length' as const }] : []),
  ],
  fields: [
    {
      key: 'floorDepth',
      label: 'Maximum depth (flat floor)',
      as: 'length',
      min: 0.05,
      empty: () => 'no floor',
      hint: (cut) => (cut.floorDepth === undefined ? 'Left empty, every stroke goes as deep as it is wide.' : undefined),
    },
    { key: 'stepover', label: 'Step-over on the floor', as: 'length', min: 0.02, when: (cut) => cut.floorDepth !== undefined },
    startDepth,
    { key: 'depthPerPass', label: 'Depth per pass', as: 'length', min: 0.05, empty: () => 'all at once', under: 'Depth in steps' },
    { key: 'plug.margin', label: 'Clearance around the plug', as: 'length', min: 1, when: (cut) => cut.plug !== undefined },
  ],
  varyDepth: (cut, depth) => ({ ...cut, floorDepth: depth }),
  tried({ cut, bit, facts, widest, limitedByBit }, job) {
    const needsFloor = limitedByBit === true || facts.deepest >= boardThickness(job.board) || facts.deepest - cut.startDepth > bit.fluteLength;
    if (widest === undefined || !isPointed(bit)) return { ridge: 0, needsFloor };
    const floor = limitedByBit || (cut.floorDepth !== undefined && grooveWidth(bit, cut.floorDepth) < 2 * widest);
    return { ridge: floor ? ridgeOf(bit, cut.stepover) : 0, needsFloor };
  },
  /** A coarser floor. (Common practice: the floor is what costs the time.) */
  faster({ cut, bit, limitedByBit, widest, ridge }, { show }) {
    if (!isPointed(bit) || (!limitedByBit && (cut.floorDepth === undefined || widest === undefined || cut.plug))) return [];
    return [2 * cut.stepover, 0.1 * bit.diameter]
      .filter((stepover) => stepover > 1.05 * cut.stepover && stepover <= 0.15 * bit.diameter)
      .map((stepover) => ({
        label: `step over by ${show(stepover)} on the floor instead of ${show(cut.stepover)}`,
        cost: `Ridges of ${show(ridgeOf(bit, stepover))} instead of ${show(ridge ?? 0)}.`,
        change: { stepover },
      }));
  },
  /** (Common practice: the same artwork needs less depth with a wider bit.) */
  widerIsFaster: ({ cut, bit, limitedByBit, widest }) =>
    !isPointed(bit) || (!limitedByBit && (cut.floorDepth === undefined || widest === undefined || cut.plug)) ? null : { floorDepth: undefined },
  /**
   * V-carved inlay (derived): the female's walls are vdepth·t in from the line at any depth. The plug is
   * carved round the mirrored drawing so that its wall meets the line at the start depth S: held into
   * the female face down, its top comes to depth S and its walls lie on the female's. With a floor D the
   * glue has D - S; the plug's own floor lies the saw's room above the female's surface. Where ridges on a
   * floor stand higher than the room before it, the room is made larger, and that is told.
   */
  otherHalf(cut, job, room) {
    if (cut.plug) return { ok: false, why: 'Only a recess, a plug, or a V-carve with a floor has another half.' };
    if (cut.floorDepth === undefined) return { ok: false, why: 'An inlay needs a floor: give the V-carve a depth it does not pass.' };
    const bit = job.tools[cut.tool];
    // Passes with a V leave ridges on the floors of both halves: neither may touch what it faces.
    const ridge = isPointed(bit) ? ridgeOf(bit, cut.stepover) : 0;
    const told: string[] = [];
    const show = (mm: number) => formatLength(mm, { unit: job.units });
    const finestStep = (height: number) => 2 * radiusAt({ ...shapeOf(bit), outer: Infinity }, height);
    let { glue } = room;
    if (ridge + CLEAR > glue) {
      const finer = show(finestStep(Math.max(0, glue - CLEAR)));
      glue = ridge + CLEAR;
      told.push(
        `Ridges ${show(ridge)} high stand on the floor it goes into: it is made to go ${show(glue)} less deep than that floor, so that it does not sit on them. For ${show(room.glue)} of glue, carve that floor with a step-over of ${finer} and pair again.`,
      );
    }
    if (glue >= cut.floorDepth)
      return {
        ok: false,
        why:
          glue > room.glue
            ? `The ridges on the floor (${show(ridge)}) take all of the depth: use a smaller step-over.`
            : 'The room for glue takes all of the depth.',
      };
    let { stepover } = cut;
    if (ridge + CLEAR > room.saw) {
      stepover = Math.max(0.02, finestStep(Math.max(0.01, room.saw - CLEAR)));
      told.push(`Its own floor is carved with a step-over of ${show(stepover)}: coarser ridges would touch the board before it is in.`);
    }
    const plug = { ...cut, name: 'Carve the plug', startDepth: cut.floorDepth - glue, floorDepth: room.saw, stepover, after: undefined, plug: { margin: 12 } };
    return { ok: true, cut: VCarveCut.parse(plug), what: 'plug', told, mirrored: true };
  },
};

export const vcarveMaker: CutMaker<VCarveCut> = {
  work(cut, { bit, job }, shape) {
    const most = 'angle' in bit ? bit.diameter / 2 / Math.tan((bit.angle * Math.PI) / 360) : boardThickness(job.board);
    const passes = passesTo(Math.min(cut.floorDepth ?? Infinity, most), cut.depthPerPass);
    if (cut.plug) {
      const rings = cut.plug.margin / cut.stepover;
      return shape.passes(passes, { length: shape.length * (1 + rings), points: shape.points * (1 + rings) + rings });
    }
    return shape.passes(passes, cut.floorDepth === undefined ? shape.outlines : shape.cleared(cut.stepover));
  },
  plan(cut, { bit, job, regions, travel }) {
    if (!isPointed(bit)) return { path: joined([]), lifts: 0, through: false };
    const plan = planVCarve(regions, cut, bit, travel, job.tolerance, cut.after ? job.tools[cut.after] : undefined);
    const findings = plan.trouble.length ? [finding.axisTrouble(cut.id, plan.trouble.length)] : [];
    return { ...plan, through: false, ridge: ridgeOf(bit, floorStep(cut, bit)), findings };
  },
  expected({ cut, bit, widest }, context) {
    if (!isPointed(bit)) return [];
    const carved = carvedRegions(context.regions, cut);
    const walls: Removal = { kind: 'walls', regions: carved, shape: shapeOf(bit), start: cut.startDepth, floor: cut.floorDepth ?? Infinity, widest };
    if (!cut.plug) return [walls];
    return [walls, { kind: 'lean', stays: subtract(wholeBoard(context), carved), shape: shapeOf(bit), start: cut.startDepth }];
  },
  check(planned, context) {
    const { cut, bit } = planned;
    const { job } = context;
    const found: Finding[] = [];
    if (isPointed(bit)) {
      if (planned.limitedByBit) found.push(finding.bitTooNarrow(cut.id, 2 * planned.widest!, grooveWidth(bit, deepestOfV(bit))));
      if (planned.tooNarrow) found.push(finding.strokeNarrowerThanTip(cut.id, bit.tipFlat));
      if (cut.plug) found.push(...inlayFindings(planned, bit, context));
      found.push(...finestFindings(planned, bit, context));
    }
    if (cut.after && !Object.values(job.cuts).some((other) => other.id !== cut.id && 'floorOf' in other && other.floorOf === cut.id))
      found.push(finding.clearingMissing(cut.id, `bit “${job.tools[cut.after]?.name || cut.after}”`));
    return found;
  },
};

/** Strokes that the tip or the unevenness of the board turns to fuzz. */
function finestFindings({ cut, finest, tooNarrow }: PlannedCut<VCarveCut>, bit: PointedBit, { job: { board } }: CutContext): Finding[] {
  if (!finest) return [];
  const { width, at } = finest;
  const tip = Math.max(bit.tipFlat, 2 * bit.tipRadius);
  const spread = board.measured ? boardThickness(board) - Math.min(...board.measured) : 0;
  if (!tooNarrow && tip > 0 && width < TIPS * tip) return [finding.carvesToMush(cut.id, width, 'tip', tip, at)];
  return spread > 0 && depthForStroke(bit, width) < spread ? [finding.carvesToMush(cut.id, width, 'board', spread, at)] : [];
}

/** What keeps a V-carved plug from going in: ridges beside it, and corners a blunt tip cannot cut into its other half. */
function inlayFindings({ cut, ridge = 0 }: PlannedCut<VCarveCut>, bit: PointedBit, { regions }: CutContext): Finding[] {
  const found: Finding[] = [];
  if (cut.floorDepth !== undefined && ridge > cut.floorDepth - PROUD) found.push(finding.inlayProud(cut.id, ridge, cut.floorDepth));
  const tip = Math.max(shapeOf(bit).flat, bit.tipRadius > 0 ? evenFrom(bit) : 0);
  const corner = tip > 0 ? regions.flatMap(contoursOf).flatMap(convexCorner)[0] : undefined;
  // The tip leaves its own radius in a corner of angle θ, r/sin(θ/2) - r short of it: 0.41 r when that is square.
  if (corner) found.push(finding.inlayBinds(cut.id, 2 * tip, (Math.SQRT2 - 1) * tip, corner));
  return found;
}

/** The first sharp convex corner of an outline; inside is on its left. */
function convexCorner({ xy, smooth }: Contour): [number, number][] {
  const n = smooth.length;
  for (let i = 0; i < n; i++) {
    if (smooth[i]) continue;
    const [p, q] = [(i + n - 1) % n, (i + 1) % n];
    const [ax, ay, bx, by] = [xy[2 * i] - xy[2 * p], xy[2 * i + 1] - xy[2 * p + 1], xy[2 * q] - xy[2 * i], xy[2 * q + 1] - xy[2 * i + 1]];
    if (Math.atan2(ax * by - ay * bx, ax * bx + ay * by) > CORNER) return [[xy[2 * i], xy[2 * i + 1]]];
  }
  return [];
}
