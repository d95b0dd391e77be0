/**
 * Torch cut: the middle of the arc runs half a kerf off the drawn line, always in the scrap, which lies on the
 * left of travel with a right-hand swirl: outlines of parts clockwise, holes counter-clockwise (common practice:
 * the square edge is on the right). Every contour is pierced in the scrap, begun by a lead-in and, where it is a
 * hole, cut a little past its start with the arc switched off early. What lies inside is cut first.
 *
 * Heights are above the plate: unlike a bit the torch never goes below its top.
 */
import type { Bit } from '../../bits/schema.ts';
import { ClosedLine, contoursOf, keptFor, offset, unite, type DrawnLine, type Region } from '../../geometry/index.ts';
import { PathWriter, type Toolpath, type Travel } from '../../toolpath/index.ts';
import { nearbyRegions } from '../nearby.ts';
import { chainsOf } from './chains.ts';
import type { TorchCut } from './cut.ts';
import type { LeadRoom } from './leads.ts';
import { cuttingOrder } from './order.ts';
import { openWay, turnedTo, wayOf, writeWay, type Contour, type TorchContour } from './way.ts';

type Point = [number, number];

export interface TorchPlan {
  path: Toolpath;
  contours: TorchContour[];
  pierces: number;
  touches: number;
  /** Contours the kerf does not fit into. */
  unreachable: number;
  /** Where a lead was asked for and no room was found. */
  noLead: Point[];
  /** What must stay: the parts. */
  parts: Region[];
  /** Lines that, once cut, have set free what is inside them. */
  freeing: Float64Array[];
  /** Where the arc really runs, when the machine moves it off the path by itself; else it is the path. */
  arc: Toolpath | null;
  /** How wide and how deep the arc takes, mm. */
  kerf: number;
  depth: number;
}

/** What the drawing means: the parts that must stay. Of openings it is what lies round them that stays. */
export function partsOf(drawn: readonly Region[], side: TorchCut['side'], plate: Region): Region[] {
  if (side === 'inside') return unite([...contoursOf(plate), ...drawn.flatMap(contoursOf)], 'evenodd');
  if (side === 'outside') return [...drawn];
  return byNesting(drawn);
}

/** What is drawn by what lies in what, as one area: asked for by the parts and by the contours round them. */
const byNesting = (drawn: readonly Region[]): Region[] => keptNesting(drawn, '', () => unite(drawn.flatMap(contoursOf), 'evenodd'));
const keptNesting = keptFor<Region[]>();

/**
 * Lines the middle of the arc runs on.
 *
 * @param half half the kerf that the program reckons with; 0 when the machine does
 */
export function contoursFor(drawn: readonly Region[], cut: Pick<TorchCut, 'side' | 'corners'>, half: number): { contours: Contour[]; unreachable: number } {
  const ringOf = (xy: ArrayLike<number>) => new ClosedLine(Float64Array.from(xy));
  if (cut.side === 'on') {
    const rings = drawn.flatMap((region) => contoursOf(region).map(({ xy }, k) => ({ xy, hole: k > 0 })));
    return { contours: rings.map(({ xy, hole }) => ({ ring: ringOf(turned(xy, hole)), side: 'on', hole })), unreachable: 0 };
  }
  const regions = cut.side === 'auto' ? byNesting(drawn) : [...drawn];
  const join = cut.corners === 'plain' ? 'round' : 'mitre';
  const contours: Contour[] = [];
  let unreachable = 0;
  const add = (xy: ArrayLike<number>, side: 'outside' | 'inside', hole: boolean) => contours.push({ ring: ringOf(turned(xy, hole)), side, hole });
  const opened = (xy: ArrayLike<number>, side: 'outside' | 'inside') => {
    // An opening: the torch inside it. Its own outline is taken as an area.
    const inner = offset([areaIn(xy)], -half);
    if (inner.length === 0) unreachable++;
    for (const region of inner) for (const ring of contoursOf(region)) add(ring.xy, side, ring === region.outer);
  };
  const kept = (xy: ArrayLike<number>, side: 'outside' | 'inside') => {
    for (const region of offset([areaIn(xy)], half, join)) for (const ring of contoursOf(region)) add(ring.xy, side, ring !== region.outer);
  };
  for (const region of regions) {
    const inside = cut.side === 'inside';
    (inside ? opened : kept)(region.outer.xy, inside ? 'inside' : 'outside');
    for (const hole of region.holes) (inside ? kept : opened)(hole.xy, inside ? 'outside' : 'inside');
  }
  return { contours, unreachable };
}

/** What an outline encloses, by itself. */
const areaIn = (xy: ArrayLike<number>): Region => ({ outer: { xy: Float64Array.from(turnedTo(xy, 1)), smooth: new Uint8Array(xy.length / 2) }, holes: [] });

/** Waste on the left: round a part clockwise, in a hole counter-clockwise. */
const turned = (xy: ArrayLike<number>, hole: boolean): number[] => turnedTo(xy, hole ? 1 : -1);

/** At the plate's edge nothing is pierced: the arc takes hold within this, seconds. (Common practice: a moment.) */
const TAKES_HOLD = 0.1;

/** The arc comes out below the plate by so much, mm: what it goes through is through. */
const SLAG = 1;

/** A lead may come so near to a part's grown edge: its own end lies on it, mm. */
const CLOSE = 2e-3;

/** What else a torch cut must know of its job. */
export interface TorchContext {
  plate: { width: number; height: number; thickness: number };
  /** Places where contours were begun by hand, mm. */
  starts?: readonly Point[];
  /** Parts that other cuts leave standing. */
  standing?: readonly Region[];
  /** What is cut out of the plate already: no arc is struck there. */
  gone?: readonly Region[];
}

/** What no feed or height changes. */
const keptParts = keptFor<Region[]>();
const keptContours = keptFor<ReturnType<typeof contoursFor>>();
const keptGrown = keptFor<Region[]>();

export function planTorch(
  drawn: readonly Region[],
  lines: readonly DrawnLine[],
  cut: TorchCut,
  nozzle: Bit,
  travel: Travel,
  { plate, starts = [], standing = [], gone = [] }: TorchContext,
): TorchPlan {
  const half = cut.kerfBy === 'program' ? cut.kerf / 2 : 0;
  const sheet = areaIn([0, 0, plate.width, 0, plate.width, plate.height, 0, plate.height]);
  const parts = keptParts(drawn, JSON.stringify([cut.side, plate.width, plate.height]), () => partsOf(drawn, cut.side, sheet));
  const { contours, unreachable } = keptContours(drawn, JSON.stringify([cut.side, cut.corners, half]), () => contoursFor(drawn, cut, half));
  const mirrored = nozzle.kind === 'nozzle' && nozzle.swirl === 'left';
  const kept = [...parts, ...standing];
  const room: LeadRoom = {
    kind: cut.lead === 'none' ? 'arc' : cut.lead,
    length: cut.leadIn,
    crater: cut.crater,
    // Where the program may not go: in a part, or so near that the kerf takes of it. A machine that moves off by itself is led along the edge.
    closed: nearbyRegions([...keptGrown(kept, String(half), () => offset(kept, half - CLOSE)), ...offset(gone, half)]),
    parts: nearbyRegions(kept),
    plate,
    half: cut.kerf / 2,
  };
  const ways = contours.map((contour) => wayOf(contour, cut, room, starts, half, mirrored));
  const open = cut.side === 'on' ? lines.map((line) => openWay(line, cut)) : [];
  const all = [...ways, ...open];
  const order = cuttingOrder(
    all.map(({ facts, ring }) => ({ at: facts.pierce, ring })),
    cut.spreadHeat,
  );
  const writer = new PathWriter(travel);
  let touched: Point | null = null;
  let [touches, pierces] = [0, 0];
  const links = chainsOf(order, all, cut, room, (k, start) => wayOf(contours[k], cut, room, [start], half, mirrored));
  order.forEach((k, n) => {
    const way = all[k];
    const { pierce, lead } = way.facts;
    const link = links.get(n - 1);
    way.facts.chained = link !== undefined;
    if (link) {
      writer.setFeed(cut.feed);
      for (const [x, y] of link) writer.cutTo(x, y, cut.cutHeight);
    } else {
      writer.begin(cut.id, `contour ${n + 1} of ${order.length}, ${way.facts.side}`);
      const far = touched === null || Math.hypot(pierce[0] - touched[0], pierce[1] - touched[1]) > cut.touchAfter;
      // What is put in another order afterwards is felt for everywhere: what was near then need not be near now.
      const touch = cut.touch === 'each' || (cut.touch === 'far' && (far || cut.order !== 'shortest'));
      const edge = lead === 'edge';
      const height = edge ? cut.cutHeight : cut.pierceHeight;
      writer.over(pierce[0], pierce[1], touch ? travel.clearance : height);
      if (touch) {
        writer.touch(cut.floatTravel);
        touches++;
        touched = pierce;
        writer.rapidTo(height);
      }
      writer.on(1, edge ? TAKES_HOLD : cut.pierceDelay);
      if (!edge) pierces++;
      writer.cutTo(pierce[0], pierce[1], cut.cutHeight);
    }
    writeWay(writer, way, cut, links.has(n));
    if (!links.has(n)) writer.lift();
  });
  const noLead = cut.lead === 'none' || cut.side === 'on' ? [] : ways.filter(({ facts }) => facts.lead === 'none').map(({ facts }) => facts.pierce);
  // What the machine makes of it: what does not fit the kerf does not fit there either.
  const real = cut.kerfBy === 'machine' ? planTorch(drawn, lines, { ...cut, kerfBy: 'program' }, nozzle, travel, { plate, starts, standing, gone }) : null;
  return {
    path: writer.finish(),
    contours: order.map((k) => all[k].facts),
    pierces,
    touches,
    unreachable: real?.unreachable ?? unreachable,
    noLead,
    parts,
    freeing: ways.filter(({ hole, facts: { side } }) => side !== 'on' && (hole || cut.microTab === 0)).map(({ ring }) => ring.xy),
    arc: real?.path ?? null,
    kerf: cut.kerf,
    depth: plate.thickness + SLAG,
  };
}
