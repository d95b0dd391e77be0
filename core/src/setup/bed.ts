/** Where a board lies on the bed, what stands beside it, and what may be moved over. Machine coordinates, mm. */
import { tilesOf } from '../job/tiles.ts';
import { topHeight, datumPoint, type Holder, type Job } from '../job/index.ts';
import type { MachineProfile } from '../machine/index.ts';
import { distanceToHolder } from '../preflight/holders.ts';
import { RAPID } from '../toolpath/index.ts';
import type { Path } from '../motion/index.ts';

/** The nearest slot line to a coordinate across the slots; the coordinate itself without slots. */
export function snapToSlots(at: number, slots: MachineProfile['slots'], within = 8): number {
  if (!slots) return at;
  const k = Math.min(slots.count - 1, Math.max(0, Math.round((at - slots.first) / slots.pitch)));
  const slot = slots.first + k * slots.pitch;
  return Math.abs(slot - at) <= within ? slot : at;
}

/** A holder in work coordinates: from the datum, its top above Z0. */
export function holdersAtWork(job: Job): Holder[] {
  const [dx, dy] = datumPoint(job);
  const up = job.datum.z === 'spoilboard' ? topHeight(job.board) : 0;
  return job.board.holders.map((holder) => ({ ...holder, x: holder.x - dx, y: holder.y - dy, height: holder.height + up }));
}

/**
 * The first holder that stands in a way driven at one height: points in order, work coordinates.
 * `reach` is how wide the bit is from its axis. Null when the way is free.
 */
export function inTheWay(way: readonly (readonly [number, number])[], height: number, holders: readonly Holder[], reach: number): Holder | null {
  for (const holder of holders) {
    if (holder.height < height) continue;
    for (let i = 1; i < way.length; i++) if (distanceToHolder(way[i - 1][0], way[i - 1][1], way[i][0], way[i][1], holder) < reach) return holder;
  }
  return null;
}

/** The box round a program, driven once round, work coordinates. */
export const boxWay = (min: readonly number[], max: readonly number[]): [number, number][] => [
  [min[0], min[1]],
  [max[0], min[1]],
  [max[0], max[1]],
  [min[0], max[1]],
  [min[0], min[1]],
];

/** The outline of everything a path cuts, as its convex hull driven once round (Andrew's monotone chain, 1979). */
export function outlineWay(path: Pick<Path, 'kind' | 'x' | 'y'>): [number, number][] {
  const points: [number, number][] = [];
  for (let i = 0; i < path.kind.length; i++) if (path.kind[i] !== RAPID && !Number.isNaN(path.x[i] + path.y[i])) points.push([path.x[i], path.y[i]]);
  points.sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  if (points.length < 2) return points;
  const chain = (from: readonly [number, number][]) => {
    const hull: [number, number][] = [];
    for (const p of from) {
      while (hull.length >= 2) {
        const [a, b] = hull.slice(-2);
        if ((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 1e-9) break;
        hull.pop();
      }
      hull.push(p);
    }
    return hull.slice(0, -1);
  };
  const hull = [...chain(points), ...chain([...points].reverse())];
  return [...hull, hull[0]];
}

/** A point of the work turned about work zero. */
export const turned = ([x, y]: readonly [number, number], angle: number): [number, number] => [
  Math.cos(angle) * x - Math.sin(angle) * y,
  Math.sin(angle) * x + Math.cos(angle) * y,
];

/** How much of a board must lie under the field at once: all of it, or of one in tiles the longest. */
function underField(job: Job): { width: number; height: number } {
  const { width, height } = job.board;
  const longest = Math.max(0, ...tilesOf(job).map(({ from, to }) => to - from));
  const across = longest > 0 ? job.tiles?.axis : undefined;
  return { width: across === 'x' ? longest : width, height: across === 'y' ? longest : height };
}

/** Where a board lies within the part of the bed that can be used, in its middle; null when it does so already, or is too large for it. */
export function fittingPlace(job: Job, { limits: { usable } }: MachineProfile, at: { x: number; y: number }): { x: number; y: number } | null {
  const { width, height } = underField(job);
  const [roomX, roomY] = [usable.width - width, usable.height - height];
  const fits = at.x >= usable.x && at.y >= usable.y && at.x - usable.x <= roomX && at.y - usable.y <= roomY;
  return fits || roomX < 0 || roomY < 0 ? null : { x: usable.x + roomX / 2, y: usable.y + roomY / 2 };
}

/** What is wrong with where the board lies on the bed; empty when it may lie there. */
export function bedFaults(job: Job, profile: MachineProfile, at: { x: number; y: number }): string[] {
  const why: string[] = [];
  const { usable } = profile.limits;
  const { width, height } = underField(job);
  const over = [usable.x - at.x, usable.y - at.y, at.x + width - usable.x - usable.width, at.y + height - usable.y - usable.height];
  const most = Math.max(...over);
  if (most > 0.01) why.push(`The board reaches ${most.toFixed(0)} mm beyond the part of the bed that can be used.`);
  const { sensor } = profile;
  const covers = (x: number, y: number, r: number, box: { x: number; y: number; width: number; height: number }) =>
    x > box.x - r && y > box.y - r && x < box.x + box.width + r && y < box.y + box.height + r;
  if (sensor && covers(sensor.x, sensor.y, sensor.radius, { ...at, width: job.board.width, height: job.board.height }))
    why.push('The board lies on the tool sensor.');
  for (const holder of job.board.holders) {
    const box = { x: at.x + holder.x - holder.width / 2, y: at.y + holder.y - holder.depth / 2, width: holder.width, height: holder.depth };
    if (sensor && covers(sensor.x, sensor.y, sensor.radius, box)) why.push(`The ${holder.kind} stands on the tool sensor.`);
    const [px, py] = profile.limits.park;
    if (covers(px, py, 10, box)) why.push(`The ${holder.kind} stands where the machine parks.`);
  }
  return why;
}
