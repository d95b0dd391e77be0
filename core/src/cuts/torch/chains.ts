/** Outlines cut in one go: which ones the arc goes on between, and where each then begins. */
import { emptyBox, growBox } from '../../geometry/index.ts';
import { cutLine, linkTo, type CutLine, type WayEnd } from './chain.ts';
import type { TorchCut } from './cut.ts';
import type { LeadRoom } from './leads.ts';
import { endOf, type Way } from './way.ts';

type Point = [number, number];

/** Places along an outline where the arc may come on to it and go on from it, and how many of them are tried. */
const ENTRIES = 24;
const TRIED = 6;

/**
 * Links from one outline on to the next, by the place of the first in the order. An outline begins, and so ends, where the
 * torch runs towards the one after it: the link comes to it from behind, and the arc goes on ahead.
 *
 * @param again the way of a contour that begins at a place
 */
export function chainsOf(order: readonly number[], all: Way[], cut: TorchCut, room: LeadRoom, again: (k: number, start: Point) => Way): Map<number, Point[]> {
  const links = new Map<number, Point[]>();
  // What is put in another order afterwards goes by contours, and a machine moves off its line contour by contour: each is lit by itself.
  if (cut.chain === 0 || cut.order !== 'shortest' || cut.kerfBy === 'machine') return links;
  const isOutline = (way: Way | undefined): way is Way => way?.facts.side === 'outside' && !way.hole && !['none', 'edge'].includes(way.facts.lead);
  const middles = order.map((k): Point => {
    const { minX, minY, maxX, maxY } = growBox(emptyBox(), all[k].ring.xy);
    return [(minX + maxX) / 2, (minY + maxY) / 2];
  });
  /** Ways of the outline at a place of the order that run towards a heading where they begin. */
  const heading = (n: number, from: Point, to: Point): Way[] => {
    const { ring } = all[order[n]];
    const along = (s: number) => ring.direction(s)[0] * (to[0] - from[0]) + ring.direction(s)[1] * (to[1] - from[1]);
    return Array.from({ length: ENTRIES }, (_, k) => ((k + 0.5) * ring.length) / ENTRIES)
      .sort((a, b) => along(b) - along(a))
      .slice(0, TRIED)
      .map((s) => again(order[n], ring.at(s)))
      .filter(isOutline);
  };
  const lineOf = ({ lead, points }: Way): CutLine => cutLine([...lead, ...points.map(({ x, y }): Point => [x, y])]);
  const linkFrom = (from: Way, to: Way, cutAlready: readonly CutLine[]): Point[] | null => {
    const [p, q] = from.points.slice(-2);
    const size = Math.hypot(q.x - p.x, q.y - p.y);
    const end: WayEnd = { at: [q.x, q.y], along: [(q.x - p.x) / size, (q.y - p.y) / size], waste: from.facts.direction === 'clockwise' ? 1 : -1 };
    return linkTo(end, to.facts.pierce, cut.chain, room, [...cutAlready, lineOf(from)]);
  };
  const cutAlready: CutLine[] = [];
  for (let n = 0; n < order.length; n++) {
    const [from, to] = [all[order[n]], all[order[n + 1]]];
    if (isOutline(from) && isOutline(to)) {
      // One that the arc came on to stays as it begins; the first of a chain is begun where it suits.
      const firsts = links.has(n - 1) ? [from] : heading(n, middles[n], middles[n + 1]);
      const nexts = n + 2 < order.length ? heading(n + 1, middles[n + 1], middles[n + 2]) : heading(n + 1, middles[n], middles[n + 1]);
      const found = firsts.flatMap((first) => nexts.map((next) => ({ first, next }))).find(({ first, next }) => linkFrom(first, next, cutAlready));
      if (found) {
        const link = linkFrom(found.first, found.next, cutAlready)!;
        [all[order[n]], all[order[n + 1]]] = [found.first, found.next];
        links.set(n, link);
        cutAlready.push(cutLine([endOf(found.first), ...link]));
      }
    }
    cutAlready.push(lineOf(all[order[n]]));
  }
  return links;
}
