/** Profile: sides, corners, leads, ramps, tabs - what must hold on any outline. */
import { describe, expect, it } from 'vitest';
import { shapeOf } from '../../bits/index.ts';
import { drawSubpaths, parsePath } from '../../artwork/index.ts';
import { circle, contourOf, distanceToEdges, insideRegion, unite, type Region } from '../../geometry/index.ts';
import { Bit, Cut, makeItem, type CutOf } from '../../job/index.ts';
import { planJob } from '../../plan/index.ts';
import { carve, HeightMap } from '../../proof/index.ts';
import { fontOf, makeJob } from '../../reference/fixtures.ts';
import { RAPID, type Toolpath } from '../../toolpath/index.ts';
import { planProfile } from './profile.ts';

const travel = { clearance: 5, feed: 2400, plunge: 800 };
const end6 = Bit.parse({ kind: 'end', id: 'e', diameter: 6 });
const { board } = makeJob();
const profile = (more: object = {}) => Cut.parse({ kind: 'profile', id: 'p', on: 'art', tool: 'e', ...more }) as CutOf<'profile'>;
const shapes = (d: string): Region[] => unite(drawSubpaths(parsePath(d).subpaths, 0.005, true).contours, 'evenodd');
/** The board after a path. */
function boardAfter(path: Toolpath, cell = 0.2): HeightMap {
  const map = new HeightMap(100, 80, cell);
  carve(map, path, shapeOf(end6));
  return map;
}
const square = shapes('M20 20H80V60H20Z');

/** Nearest the bit's middle comes to the drawn lines under power, below the surface. */
function nearest(path: Toolpath, regions: readonly Region[]): number {
  let best = Infinity;
  for (let i = 1; i < path.kind.length; i++)
    if (path.kind[i] !== RAPID && path.z[i] < 0)
      for (let k = 0; k <= 8; k++) {
        const f = k / 8;
        best = Math.min(best, distanceToEdges(regions, path.x[i - 1] + f * (path.x[i] - path.x[i - 1]), path.y[i - 1] + f * (path.y[i] - path.y[i - 1])));
      }
  return best;
}

describe('which side', () => {
  it('by nesting: outside of a part, inside of its hole, outside of a part in the hole', () => {
    // Three things drawn one in another, each for itself, as a person draws them.
    const nested = [...square, ...shapes('M30 30H70V50H30Z'), ...unite([circle(50, 40, 5)])];
    const { path, unreachable } = planProfile(nested, profile({ side: 'auto', tabs: 0, depth: 2 }), end6, board, travel);
    expect(unreachable).toBe(0);
    const at = new Set<string>();
    for (let i = 1; i < path.kind.length; i++) {
      if (path.kind[i] === RAPID || path.z[i] >= 0) continue;
      const outer = insideRegion(square[0], path.x[i], path.y[i]);
      const hole = path.x[i] > 30 && path.x[i] < 70 && path.y[i] > 30 && path.y[i] < 50;
      at.add(!outer ? 'outside the part' : !hole ? 'in the wood of the part' : 'in its hole');
    }
    expect([...at].sort()).toEqual(['in its hole', 'outside the part']);
    // The ring between hole and inner part is wide enough for the bit on both sides.
    expect(nearest(path, nested)).toBeGreaterThan(2.99);
  });
  it('cuts what lies inside another line first', () => {
    const nested = [...square, ...shapes('M30 30H70V50H30Z')];
    const { path } = planProfile(nested, profile({ side: 'auto', tabs: 0, depth: 2 }), end6, board, travel);
    const first = path.kind.findIndex((kind, i) => kind !== RAPID && path.z[i] < 0);
    expect(insideRegion(square[0], path.x[first], path.y[first])).toBe(true);
  });
});

describe('tabs', () => {
  it.each(['square', 'ramped'])('%s ones stand to their height, and nowhere else is anything left', (tabShape) => {
    const cut = profile({ tabShape, tabs: 3, tabWidth: 6, tabHeight: 2 });
    const { path, tabPoints, tabs } = planProfile(square, cut, end6, board, travel);
    expect(tabs).toEqual([3]);
    const map = boardAfter(path);
    for (const [x, y] of tabPoints) expect(map.at(x, y)).toBeCloseTo(-16, 2);
    // Along the line of the bit, away from the tabs, the board is cut through.
    for (let i = 1; i < path.kind.length; i++) {
      if (path.kind[i] === RAPID) continue;
      if (tabPoints.some(([x, y]) => Math.hypot(x - path.x[i], y - path.y[i]) < 6 + 0.3)) continue;
      expect(map.at(path.x[i], path.y[i])).toBeLessThan(-18);
    }
  });
  it('are as wide as asked between the walls the bit leaves', () => {
    const { path, tabPoints } = planProfile(square, profile({ tabs: 1, tabWidth: 6, tabHeight: 2 }), end6, board, travel);
    const map = boardAfter(path);
    const [[x, y]] = tabPoints;
    const along = Math.abs(y - 17) < 0.01 || Math.abs(y - 63) < 0.01;
    let width = 0;
    for (let d = -20; d <= 20; d += 0.05) if (map.at(along ? x + d : x, along ? y : y + d) > -17) width += 0.05;
    expect(width).toBeGreaterThan(5.6);
    expect(width).toBeLessThan(6.6);
  });
  it('come every so often when a distance is asked for', () => {
    const { tabs } = planProfile(square, profile({ tabEvery: 40 }), end6, board, travel);
    // 200 mm round the part, 219 along the bit's line.
    expect(tabs).toEqual([5]);
  });
  it('lie on straight runs, away from corners', () => {
    const { tabPoints } = planProfile(square, profile({ tabs: 4 }), end6, board, travel);
    for (const [x, y] of tabPoints)
      for (const [cx, cy] of [
        [20, 20],
        [80, 20],
        [80, 60],
        [20, 60],
      ])
        expect(Math.hypot(x - cx, y - cy)).toBeGreaterThan(6);
  });
  it('put by hand stay where they were put, also when the thing is moved, scaled or drawn otherwise', async () => {
    const edge = (more: object) => makeItem({ kind: 'rectangle', id: 'edge', x: 100, y: 40, width: 180, height: 60, ...more });
    const job = makeJob();
    const cut = {
      ...(job.cuts.out as CutOf<'profile'>),
      tabsAt: [
        { item: 'edge', u: 0.25, v: 0 },
        { item: 'edge', u: 1, v: 0.5 },
      ],
    };
    const at = async (more: object) => {
      const plan = await planJob({ ...job, items: { ...job.items, edge: edge(more) }, cuts: { ...job.cuts, out: cut } }, { fonts: fontOf });
      return plan.cuts[1].tabPoints!.map(([x, y]) => [Math.round(x), Math.round(y)]).sort((a, b) => a[0] - b[0]);
    };
    // A bit of 6.35 runs 3.175 off the line.
    expect(await at({})).toEqual([
      [55, 7],
      [193, 40],
    ]);
    expect(await at({ x: 90 })).toEqual([
      [45, 7],
      [183, 40],
    ]);
    expect(await at({ width: 100 })).toEqual([
      [75, 7],
      [153, 40],
    ]);
    expect((await at({ radius: 20 })).length).toBe(2);
  });
  it('are the same places for the rough passes and for the last one', () => {
    const { path, tabPoints } = planProfile(square, profile({ tabs: 4, allowance: 0.5 }), end6, board, travel);
    const map = boardAfter(path);
    for (const [x, y] of tabPoints) expect(map.at(x, y)).toBeCloseTo(-16, 2);
  });
});

describe('allowance and skin', () => {
  it('rough passes keep off the wall, the last one at full depth takes it off', () => {
    const { path } = planProfile(square, profile({ tabs: 0, depth: 8, depthPerPass: 3, allowance: 0.5 }), end6, board, travel);
    const wall = path.spans.find(({ label }) => label === 'wall')!;
    for (let i = 1; i < path.kind.length; i++) {
      if (path.kind[i] === RAPID || path.z[i] >= 0) continue;
      const off = distanceToEdges(square, path.x[i], path.y[i]);
      if (i < wall.start) expect(off).toBeGreaterThan(3.49);
      else expect(off).toBeLessThan(3.01);
    }
    expect(Math.min(...path.z.subarray(wall.start, wall.end))).toBe(-8);
  });
  it('a skin is left under the part, and then nothing is cut through', () => {
    const { depth, through, tabs } = planProfile(square, profile({ skin: 0.4 }), end6, board, travel);
    expect([depth, through, tabs]).toEqual([17.6, false, [0]]);
  });
});

describe('entry', () => {
  it('a ramp goes down along the pass, a few degrees steep, and leaves no step in the bottom', () => {
    const { path } = planProfile(square, profile({ tabs: 0, depth: 6, depthPerPass: 3, entry: 'ramp' }), end6, board, travel);
    for (let i = 1; i < path.kind.length; i++) {
      if (path.kind[i] === RAPID || path.z[i - 1] > 0) continue;
      const level = Math.hypot(path.x[i] - path.x[i - 1], path.y[i] - path.y[i - 1]);
      expect(path.z[i - 1] - path.z[i]).toBeLessThanOrEqual(level * Math.tan((4.01 * Math.PI) / 180) + 1e-7);
    }
    const map = boardAfter(path, 0.5);
    for (const [x, y] of [
      [50, 17],
      [50, 63],
      [17, 40],
      [83, 40],
    ])
      expect(map.at(x, y)).toBeCloseTo(-6, 6);
    expect(path.spans.map(({ label }) => label)).toEqual(['pass 1 of 2', 'pass 2 of 2']);
  });
  it('a ramp lifts over tabs like any pass', () => {
    const { path, tabPoints } = planProfile(square, profile({ entry: 'ramp', tabs: 4 }), end6, board, travel);
    const map = boardAfter(path);
    for (const [x, y] of tabPoints) expect(map.at(x, y)).toBeCloseTo(-16, 2);
  });
  it.each(['line', 'arc'])('a lead (%s) comes from the waste and never touches the part; the wall is met along it', (lead) => {
    for (const [side, region] of [
      ['outside', square],
      ['inside', square],
    ] as const) {
      const { path, noLead } = planProfile(region, profile({ side, lead, leadLength: 5, tabs: 0, depth: 6, depthPerPass: 3 }), end6, board, travel);
      expect(noLead).toBe(0);
      expect(nearest(path, region)).toBeGreaterThan(2.997);
      const first = path.kind.findIndex((kind, i) => kind !== RAPID && path.z[i] < 0);
      expect(distanceToEdges(region, path.x[first], path.y[first])).toBeGreaterThan(7.9);
    }
  });
  it('a lead with no room is left out and told', () => {
    const slot = shapes('M20 20H80V27H20Z');
    const { noLead, path } = planProfile(slot, profile({ side: 'inside', lead: 'arc', leadLength: 8, tabs: 0, depth: 3 }), end6, board, travel);
    expect(noLead).toBe(1);
    expect(nearest(path, slot)).toBeGreaterThan(2.99);
  });
});

describe('corners', () => {
  it('sharp outside corners: the bit runs on to the point, and stays off the part', () => {
    const { path } = planProfile(square, profile({ outsideCorners: 'sharp', tabs: 0, depth: 2 }), end6, board, travel);
    const corners = new Set<string>();
    for (let i = 1; i < path.kind.length; i++) if (path.kind[i] !== RAPID && path.z[i] < 0) corners.add(`${path.x[i].toFixed(2)} ${path.y[i].toFixed(2)}`);
    for (const corner of ['17.00 17.00', '83.00 17.00', '83.00 63.00', '17.00 63.00']) expect(corners).toContain(corner);
    expect(nearest(path, square)).toBeGreaterThan(2.997);
  });
  // The drawn corner itself is cut, which no round bit reaches without relief; and nothing more than it takes.
  it.each(['dogbone', 'tbone'])('%s relief reaches the drawn corner of an opening', (insideCorners) => {
    const far = (how: string) => {
      const { path } = planProfile(square, profile({ side: 'inside', insideCorners: how, tabs: 0, depth: 2 }), end6, board, travel);
      return [
        [20, 20],
        [80, 20],
        [80, 60],
        [20, 60],
      ].map(([cx, cy]) => {
        let best = Infinity;
        for (let i = 1; i < path.kind.length; i++)
          if (path.kind[i] !== RAPID && path.z[i] < 0) best = Math.min(best, Math.hypot(path.x[i] - cx, path.y[i] - cy));
        return best - 3;
      });
    };
    for (const d of far('round')) expect(d).toBeCloseTo(3 * Math.SQRT2 - 3, 2);
    for (const d of far(insideCorners)) expect(Math.abs(d)).toBeLessThan(0.003);
  });
  it('relief at any angle, and at the reflex corners of a part that is cut outside', () => {
    for (const d of ['M20 20H80L40 60Z', 'M20 20H90L70 60H30Z']) {
      const region = shapes(d);
      const { path } = planProfile(region, profile({ side: 'inside', insideCorners: 'dogbone', tabs: 0, depth: 2 }), end6, board, travel);
      const { xy } = region[0].outer;
      for (let k = 0; k < xy.length; k += 2) {
        let best = Infinity;
        for (let i = 1; i < path.kind.length; i++)
          if (path.kind[i] !== RAPID && path.z[i] < 0) best = Math.min(best, Math.hypot(path.x[i] - xy[k], path.y[i] - xy[k + 1]));
        expect(best).toBeCloseTo(3, 2);
      }
    }
    const notch = [{ outer: contourOf([20, 20, 80, 20, 80, 60, 50, 60, 50, 40, 20, 40]), holes: [] }];
    const { path } = planProfile(notch, profile({ side: 'outside', insideCorners: 'dogbone', tabs: 0, depth: 2 }), end6, board, travel);
    let best = Infinity;
    for (let i = 1; i < path.kind.length; i++) if (path.kind[i] !== RAPID && path.z[i] < 0) best = Math.min(best, Math.hypot(path.x[i] - 50, path.y[i] - 40));
    expect(best).toBeCloseTo(3, 2);
  });
});
