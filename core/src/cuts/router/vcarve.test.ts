/** V-carve: floors, clearing bits, tips, passes, inlays - against the distance to the drawn edges. */
import { describe, expect, it } from 'vitest';
import { heightAt, shapeOf, type PointedBit } from '../../bits/index.ts';
import { drawSubpaths, parsePath } from '../../artwork/index.ts';
import { letterRegions, setText } from '../../artwork/text/index.ts';
import { distanceToEdges, insideRegion, mapRegion, reversed, unite, type Region } from '../../geometry/index.ts';
import { Bit, Cut, type CutOf } from '../../job/index.ts';
import { planMotion } from '../../motion/index.ts';
import { carve, HeightMap } from '../../proof/index.ts';
import { fontOf, makeJob } from '../../reference/fixtures.ts';
import { costOfLift, RAPID, type Toolpath } from '../../toolpath/index.ts';
import { planPocket } from './pocket.ts';
import { floorOf, planVCarve } from './vcarve.ts';

const travel = { clearance: 5, feed: 2400, plunge: 800 };
const vee = (angle: number, more: object = {}) => Bit.parse({ kind: 'v', id: 'v', angle, diameter: 12.7, ...more }) as PointedBit;
const vcarve = (more: object = {}) => Cut.parse({ kind: 'vcarve', id: 'c', on: 'art', tool: 'v', ...more }) as CutOf<'vcarve'>;
const shapes = (d: string): Region[] => unite(drawSubpaths(parsePath(d).subpaths, 0.005, true).contours, 'evenodd');
const words = (text: string, face: string, capHeight: number, x: number, y: number) =>
  letterRegions(setText({ text, capHeight, lineSpacing: 1.5, letterSpacing: 0, align: 'left' }, fontOf(face)!), 0.005).map((region) =>
    mapRegion(region, (px, py) => [px + x, py + y]),
  );
const isIn = (regions: readonly Region[], x: number, y: number) => regions.some((region) => insideRegion(region, x, y));

const STAR = shapes('M40 8L47 30L70 30L52 44L58 66L40 53L22 66L28 44L10 30L33 30Z');
const LETTERS = words('R&', 'playfair', 20, 5, 12);

/** The board after paths, each with its bit; and every cell of it with its distance to the drawn edges. */
function boardOf(width: number, height: number, cell: number, ...work: [Toolpath, Bit][]): HeightMap {
  const map = new HeightMap(width, height, cell);
  for (const [path, bit] of work) carve(map, path, shapeOf(bit));
  return map;
}
function everyCell(map: HeightMap, visit: (x: number, y: number, z: number) => void, stride = 3): void {
  for (let j = 0; j < map.rows; j += stride)
    for (let i = 0; i < map.columns; i += stride) visit((i + 0.5) * map.cell, (j + 0.5) * map.cell, map.height[j * map.columns + i]);
}

describe('depth is what the nearest edge allows', () => {
  it.each([
    ['sharp, 60°', vee(60)],
    ['flat tip, 90°', vee(90, { tipFlat: 0.4 })],
    ['rounded tip, 60°', vee(60, { tipRadius: 0.5 })],
    ['tapered, 30° with a ball', Bit.parse({ kind: 'tapered', id: 't', angle: 30, diameter: 6, tipRadius: 0.4 }) as PointedBit],
  ])('%s', (_name, bit) => {
    const { path } = planVCarve(LETTERS, vcarve(), bit, travel, 0.01);
    const map = boardOf(50, 40, 0.1, [path, bit]);
    const shape = { ...shapeOf(bit), outer: Infinity };
    let worstLeft = 0;
    let outside = 0;
    everyCell(map, (x, y, z) => {
      const edge = distanceToEdges(LETTERS, x, y);
      if (!isIn(LETTERS, x, y)) outside = Math.max(outside, z < 0 ? edge : 0);
      // As deep as the bit standing so that its flank meets the nearest wall: in the open middle it is the axis that rules, so only near walls.
      else if (edge < 0.6) worstLeft = Math.max(worstLeft, z + heightAt(shape, edge) - heightAt(shape, shape.flat));
    });
    // Nothing outside beyond the job's tolerance; the cells stand 0.1 apart.
    expect(outside).toBeLessThanOrEqual(0.006);
    // A blunt tip cannot reach into narrow hairlines and corners.
    if (bit.tipFlat === 0) expect(worstLeft).toBeLessThan(bit.tipRadius > 0 ? 0.5 : 0.06);
  });
});

describe('a floor', () => {
  const cut = vcarve({ floorDepth: 3, stepover: 0.5 });
  const v90 = vee(90);
  it('is never passed, and between its passes no ridge stands higher than the step leaves', () => {
    const { path } = planVCarve(STAR, cut, v90, travel, 0.01);
    expect(Math.min(...path.z)).toBe(-3);
    const map = boardOf(80, 75, 0.1, [path, v90]);
    everyCell(map, (x, y, z) => {
      if (!isIn(STAR, x, y)) return;
      const edge = distanceToEdges(STAR, x, y);
      // A 90° bit: as deep as the edge is away, to the floor; the ridge of a 0.5 step is 0.25.
      expect(z).toBeLessThanOrEqual(-Math.min(3, edge) + (edge > 3 ? 0.26 : 0.03));
    });
  });
  it.each([3, 6.35])('cleared first by a bit of %s: the two together leave what the V alone would, or less', (diameter) => {
    const mill = Bit.parse({ kind: 'end', id: 'e', diameter });
    const floor = floorOf(STAR, cut, v90);
    expect(floor.depth).toBe(3);
    const clearing = planPocket(
      floor.regions,
      Cut.parse({ kind: 'pocket', id: 'p', on: 'art', tool: 'e', depth: floor.depth }) as CutOf<'pocket'>,
      mill,
      travel,
    );
    const alone = planVCarve(STAR, cut, v90, travel, 0.01);
    const after = planVCarve(STAR, vcarve({ floorDepth: 3, stepover: 0.5, after: 'e' }), v90, travel, 0.01, mill);
    const limits = makeJob().machine;
    // The V is quicker when most of its floor is gone.
    expect(planMotion(after.path, limits).total).toBeLessThan(planMotion(alone.path, limits).total);
    const map = boardOf(80, 75, 0.15, [clearing.path, mill], [after.path, v90]);
    everyCell(map, (x, y, z) => {
      const edge = distanceToEdges(STAR, x, y);
      if (!isIn(STAR, x, y)) {
        if (z < 0) expect(edge).toBeLessThan(0.006);
        return;
      }
      expect(z).toBeGreaterThanOrEqual(-Math.min(3, edge) - 0.003 - 1e-6);
      expect(z).toBeLessThanOrEqual(-Math.min(3, edge) + (edge > 3 ? 0.26 : 0.03));
    });
  });
  it('a clearing bit too wide for the floor leaves all of it to the V', () => {
    const wide = Bit.parse({ kind: 'end', id: 'e', diameter: 40 });
    const alone = planVCarve(STAR, cut, v90, travel, 0.01);
    const after = planVCarve(STAR, vcarve({ floorDepth: 3, stepover: 0.5, after: 'e' }), v90, travel, 0.01, wide);
    const map = boardOf(80, 75, 0.2, [after.path, v90]);
    const all = boardOf(80, 75, 0.2, [alone.path, v90]);
    for (let i = 0; i < map.height.length; i++) expect(map.height[i]).toBeLessThanOrEqual(all.height[i] + 0.26);
  });
});

describe('start depth and passes', () => {
  it('carves into a pocket floor: the same carve, so much deeper', () => {
    const flat = planVCarve(STAR, vcarve({ floorDepth: 3 }), vee(60), travel, 0.01);
    const sunk = planVCarve(STAR, vcarve({ floorDepth: 3, startDepth: 2 }), vee(60), travel, 0.01);
    expect([...sunk.path.x]).toEqual([...flat.path.x]);
    sunk.path.kind.forEach((kind, i) => kind !== RAPID && expect(sunk.path.z[i]).toBeCloseTo(flat.path.z[i] - 2, 9));
  });
  it('in passes: none takes more than asked, and together they leave the same board', () => {
    const once = planVCarve(STAR, vcarve(), vee(60), travel, 0.01);
    const steps = planVCarve(STAR, vcarve({ depthPerPass: 2.5 }), vee(60), travel, 0.01);
    const a = boardOf(80, 75, 0.2, [once.path, vee(60)]);
    const b = boardOf(80, 75, 0.2, [steps.path, vee(60)]);
    for (let i = 0; i < a.height.length; i++) expect(b.height[i]).toBeCloseTo(a.height[i], 5);
    // Along the way the bit never goes more than one step below what stood there.
    const map = new HeightMap(80, 75, 0.2);
    let most = 0;
    const { path } = steps;
    for (let i = 1; i < path.kind.length; i++) {
      if (path.kind[i] !== RAPID && path.z[i] < 0) most = Math.max(most, map.at(path.x[i], path.y[i]) - path.z[i]);
      carve(map, path, shapeOf(vee(60)), i, i + 1);
    }
    expect(most).toBeLessThanOrEqual(2.5 + 1e-3);
  });
});

describe('an inlay', () => {
  it('the plug of the mirrored drawing goes into the female: walls on walls, room for glue below, none in the way', () => {
    const bit = vee(60);
    const [D, glue, saw] = [5, 0.5, 1];
    const [width, height] = [80, 75];
    const mirrored = STAR.map((region) => {
      const flip = mapRegion(region, (x, y) => [width - x, y]);
      return { outer: reversed(flip.outer), holes: flip.holes.map(reversed) };
    });
    const female = planVCarve(STAR, vcarve({ floorDepth: D, stepover: 0.3 }), bit, travel, 0.01);
    const male = planVCarve(mirrored, vcarve({ startDepth: D - glue, floorDepth: saw, stepover: 0.3, plug: { margin: 8 } }), bit, travel, 0.01);
    const f = boardOf(width, height, 0.1, [female.path, bit]);
    const m = boardOf(width, height, 0.1, [male.path, bit]);
    let tightest = Infinity;
    let walls = 0;
    everyCell(f, (x, y, hole) => {
      if (!isIn(STAR, x, y)) return;
      // Turned over, the plug's own surface comes D - glue below the female's: what was cut from it stands so much higher.
      const plug = -(D - glue) - m.at(width - x, y);
      const room = plug - hole;
      tightest = Math.min(tightest, room);
      const edge = distanceToEdges(STAR, x, y);
      // On the walls the two lie on each other.
      if (edge > 0.2 && edge < 2) {
        expect(Math.abs(room)).toBeLessThan(0.08);
        walls++;
      }
    });
    expect(walls).toBeGreaterThan(500);
    expect(tightest).toBeGreaterThan(-0.03);
    // Round the plug the floor lies the saw's room beyond the female's surface, with ridges of half a step over t.
    let floor = 0;
    everyCell(m, (x, y, z) => {
      const edge = distanceToEdges(mirrored, x, y);
      if (isIn(mirrored, x, y) || edge < 1.5 || edge > 6.5) return;
      floor++;
      expect(z).toBeGreaterThanOrEqual(-(D - glue + saw) - 1e-6);
      expect(z).toBeLessThanOrEqual(-(D - glue + saw) + 0.15 / Math.tan(Math.PI / 6) + 0.01);
    });
    expect(floor).toBeGreaterThan(500);
  });
});

describe('lifts against retracing', () => {
  const limits = makeJob().machine;
  const LIST: [string, Region[]][] = [
    ['letters', words('HERON WALK', 'bebas', 40, 5, 20)],
    ['serifs', words('Reed Gate & Mill', 'playfair', 18, 5, 20)],
    ['script', words('closed at dusk', 'lobster', 20, 5, 20)],
  ];
  // The cost model weighs retraced groove against lifts; the planned time is never worse than either extreme.
  it.each(LIST)('%s: by cost is no slower than always lifting or always retracing', (_name, regions) => {
    for (const speeds of [travel, { ...travel, plunge: 2400 }, { ...travel, clearance: 25 }]) {
      const time = (cost: number) => planMotion(planVCarve(regions, vcarve(), vee(60), speeds, 0.01, undefined, cost).path, limits).total;
      const chosen = time(costOfLift(speeds));
      expect(chosen).toBeLessThanOrEqual(Math.min(time(0), time(1e6)) * 1.01);
    }
  });
  it('lifts per letter stay at 1.2 or fewer where retracing is worth it', () => {
    const text = 'THE QUICK BROWN FOX JUMPS OVER THE LAZY DOG';
    const regions = words(text, 'bebas', 30, 5, 20);
    const { lifts } = planVCarve(regions, vcarve(), vee(60), { ...travel, clearance: 12 }, 0.01);
    expect(lifts / text.replace(/ /g, '').length).toBeLessThanOrEqual(1.2);
  });
});

// Common practice, check values of the shop floor: ratios within 10 %, on a machine whose acceleration a hobby router has.
describe('what slows a V-carve', () => {
  const inch = 25.4;
  const limits = { ...makeJob().machine };
  it('a slow plunge: a small text at 60 in/min took 125 s with 15 in/min down and 91 s with 60', () => {
    const regions = words('Larkmere', 'playfair', 10, 5, 20);
    const seconds = (plunge: number) => {
      const speeds = { clearance: 0.25 * inch, feed: 60 * inch, plunge: plunge * inch };
      return planMotion(planVCarve(regions, vcarve(), vee(90), speeds, 0.01).path, limits).total;
    };
    expect(seconds(15) / seconds(60) / (125 / 91)).toBeGreaterThan(0.9);
    expect(seconds(15) / seconds(60) / (125 / 91)).toBeLessThan(1.1);
  });
  it('a fine step on a floor: a flat-bottom star took 240 s at 2 % and 45 s at 10 %', () => {
    // The floor rules the time where the star is large against the bit; on small ones wall and corners weigh too, and the ratio is less.
    const star = STAR.map((region) => mapRegion(region, (x, y) => [10 * x, 10 * y]));
    const seconds = (percent: number) => {
      const speeds = { clearance: 0.25 * inch, feed: 60 * inch, plunge: 60 * inch };
      // Deep enough for its groove to be wider than the step: ridges of 1.1 mm stand on it at 10 %.
      const cut = vcarve({ floorDepth: 1.5, stepover: (percent / 100) * 12.7 });
      return planMotion(planVCarve(star, cut, vee(60), speeds, 0.01).path, limits).total;
    };
    expect(seconds(2) / seconds(10) / (240 / 45)).toBeGreaterThan(0.9);
    expect(seconds(2) / seconds(10) / (240 / 45)).toBeLessThan(1.1);
  });
});

describe('the finest stroke', () => {
  const finest = (d: string) => planVCarve(shapes(d), vcarve(), vee(60), travel, 0.01).finest!;
  it('of an L is its thin arm, not its corners', () => {
    // A stem 6 wide, an arm 1.5 wide.
    const { width, at } = finest('M0 0H20V1.5H6V30H0Z');
    expect(width).toBeCloseTo(1.5, 1);
    expect(at[1]).toBeCloseTo(0.75, 1);
    expect(at[0]).toBeGreaterThan(6);
  });
  it('of a square or a disc, which have none, is their whole width', () => {
    expect(finest('M0 0H8V8H0Z').width).toBeCloseTo(8, 6);
    expect(finest('M4 0A4 4 0 1 1 -4 0A4 4 0 1 1 4 0Z').width).toBeCloseTo(8, 1);
  });
});
