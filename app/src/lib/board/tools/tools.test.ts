/** The tools of the board without a screen: what presses, moves and keys do to the job. */
import { beforeEach, describe, expect, it } from 'vitest';
import { editNodes, type NodeAt, type NodeEdit } from '@kerbe/core/artwork/nodes';
import { parsePath, transformPath, type Subpath } from '@kerbe/core/artwork/path';
import { marksOf, type Marks } from '@kerbe/core/artwork/snap';
import { readJob, type Item, type Job } from '@kerbe/core/job';
import type { ArtThing } from '../../art/drawing.svelte';
import type { Point } from '../view';
import { cutsTool, type CutMarks } from './cuts';
import { nodesTool } from './nodes';
import { bitTool, bridgeTool, lineTool, measureTool, pointTool } from './probes';
import type { Bench, Press, Tool } from './tool';

const SCALE = 2;
/** Board millimetres to pixels and back: Y turned, the board's corner at 100, 500. */
const toScreen = (x: number, y: number): Point => [100 + SCALE * x, 500 - SCALE * y];
const press = (x: number, y: number, more: Partial<Press> = {}): Press => ({ board: [x, y], screen: toScreen(x, y), shift: false, alt: false, ...more });
const key = (name: string, more: Partial<KeyboardEvent> = {}) => ({ key: name, shiftKey: false, ctrlKey: false, altKey: false, ...more }) as KeyboardEvent;

const SQUARE = 'M-20 -20H20V20H-20Z';
function jobWith(): Job {
  const reading = readJob({
    kerbe: 4,
    name: 'T',
    board: { width: 200, height: 100, thickness: 18 },
    items: {
      square: { kind: 'path', id: 'square', x: 50, y: 50, d: SQUARE },
      ring: {
        kind: 'path',
        id: 'ring',
        x: 140,
        y: 50,
        d: 'M-30 0A30 30 0 1 0 30 0A30 30 0 1 0 -30 0ZM-10 0A10 10 0 1 1 10 0A10 10 0 1 1 -10 0Z',
        fill: 'evenodd',
      },
    },
    itemOrder: ['square', 'ring'],
    tools: { end: { kind: 'end', id: 'end', name: 'end', diameter: 30 }, v: { kind: 'v', id: 'v', name: 'v', angle: 90, diameter: 60 } },
    cuts: {},
    cutOrder: [],
  });
  if (!reading.ok) throw new Error(reading.why.join());
  return reading.job;
}
const onBoard = (item: Item): Subpath[] => (item.kind === 'path' ? transformPath(parsePath(item.d).subpaths, [1, 0, 0, 1, item.x, item.y]) : []);

/** What the tools asked of the editor, and the little of it they look at. */
function fakeBench() {
  const job = jobWith();
  const asked: unknown[] = [];
  const circle = (r: number, way: 1 | -1) =>
    Float64Array.from(
      Array.from({ length: 128 }, (_, i) => [140 + r * Math.cos((way * i * Math.PI) / 64), 50 + r * Math.sin((way * i * Math.PI) / 64)]).flat(),
    );
  const things = new Map<string, Partial<ArtThing>>([
    ['square', { id: 'square', contours: [Float64Array.of(30, 30, 70, 30, 70, 70, 30, 70)], lines: [], marks: marksOf(onBoard(job.items.square)) }],
    ['ring', { id: 'ring', contours: [circle(30, 1), circle(10, -1)], lines: [], marks: marksOf(onBoard(job.items.ring)) }],
  ]);
  const boxes: Record<string, number[]> = { square: [30, 30, 70, 70], ring: [110, 20, 170, 80] };
  const meets = (id: string, b: { minX: number; minY: number; maxX: number; maxY: number }) =>
    boxes[id][0] <= b.maxX && boxes[id][2] >= b.minX && boxes[id][1] <= b.maxY && boxes[id][3] >= b.minY;
  const editor = {
    job,
    drawing: {
      things,
      within: (box: never) => [...things.values()].filter(({ id }) => meets(id!, box)),
      marksIn: (box: never, without: ReadonlySet<string>): Marks[] =>
        [...things.values()].filter(({ id }) => meets(id!, box) && !without.has(id!)).map(({ marks }) => marks!),
    },
    only: job.items.square as Item | null,
    selection: new Set(['square']),
    ids: ['square'],
    nodes: [] as readonly NodeAt[],
    hand: {
      tool: 'nodes',
      snapping: true,
      grid: 0,
      bit: null as string | null,
      measured: [] as string[],
      pointFor: null as { what: string; then: (x: number, y: number) => void } | null,
    },
    note: null as { text: string } | null,
    select: (ids: Iterable<string>) => asked.push(['select', ...ids]),
    add: (label: string, input: object) => asked.push([label, input]),
    edit: async (label: string, edit: object) => void asked.push([label, edit]),
    editNodes: async (label: string, edit: NodeEdit) => void asked.push([label, edit]),
    desk: { ask: async () => onBoard(job.items.square) },
  };
  const view = { scale: SCALE, toScreen, visible: { minX: -50, minY: -50, maxX: 250, maxY: 250 } };
  const bench = { editor, view, colours: () => ({}), repaint: () => {}, repaintOver: () => {}, lift: () => {} } as unknown as Bench;
  return { bench, editor, asked };
}

let bench: Bench;
let editor: ReturnType<typeof fakeBench>['editor'];
let asked: unknown[];
beforeEach(() => ({ bench, editor, asked } = fakeBench()));
const pull = (tool: Tool, from: Point, to: Point) => {
  tool.down?.(press(...from));
  tool.move?.(press((from[0] + to[0]) / 2, (from[1] + to[1]) / 2));
  tool.move?.(press(...to));
  tool.up?.(press(...to));
};

describe('nodes', () => {
  const ready = async () => {
    const tool = nodesTool(bench);
    tool.sync();
    await Promise.resolve();
    await Promise.resolve();
    return tool;
  };
  it('a press picks the node under it, Shift adds one and takes it away again', async () => {
    const tool = await ready();
    tool.down!(press(30.5, 29.6));
    expect(editor.nodes).toEqual([[0, 0]]);
    tool.up!(press(30.5, 29.6));
    tool.down!(press(70, 30, { shift: true }));
    expect(editor.nodes).toHaveLength(2);
    tool.up!(press(70, 30));
    tool.down!(press(70, 30, { shift: true }));
    expect(editor.nodes).toEqual([[0, 0]]);
    tool.up!(press(70, 30));
    tool.down!(press(50, 50));
    expect(editor.nodes).toEqual([]);
    // Picking alone changes nothing.
    expect(asked).toEqual([]);
  });
  it('pulling moves what is picked, as one edit that is what was shown', async () => {
    const tool = await ready();
    editor.hand.snapping = false;
    pull(tool, [70, 70], [76, 78]);
    expect(asked).toHaveLength(1);
    const [label, edit] = asked[0] as [string, NodeEdit & { dx: number; dy: number }];
    expect(label).toBe('Move a node');
    expect([edit.do, edit.dx, edit.dy]).toEqual(['move', 6, 8]);
    const [moved] = editNodes(onBoard(editor.job.items.square), edit);
    const corners = [moved, ...moved.segments].map(({ x, y }) => `${x} ${y}`);
    expect(corners).toContain('76 78');
    expect(corners).not.toContain('70 70');
  });
  it('draws a pulled node to an end of something else that is near', async () => {
    const tool = await ready();
    pull(tool, [70, 70], [109, 52]);
    const [, edit] = asked[0] as [string, { dx: number; dy: number }];
    // The ring begins at 110, 50.
    expect([70 + edit.dx, 70 + edit.dy]).toEqual([110, 50]);
  });
  it('a double press on a line adds a node there; Delete takes picked ones away; arrows nudge; Tab goes round; Escape ends', async () => {
    const tool = await ready();
    tool.double!(press(50, 30.4));
    expect(asked.pop()).toEqual(['Add a node', { do: 'add', at: [0, 0], t: 0.5 }]);
    expect(tool.key!(key('Tab'))).toBe(true);
    expect(editor.nodes).toEqual([[0, 0]]);
    tool.key!(key('Tab'));
    expect(editor.nodes).toEqual([[0, 1]]);
    expect(tool.key!(key('ArrowUp'))).toBe(true);
    expect(asked.pop()).toEqual(['Move a node', { do: 'move', nodes: [[0, 1]], dx: 0, dy: 0.1 }]);
    tool.key!(key('ArrowLeft', { shiftKey: true }));
    expect(asked.pop()).toEqual(['Move a node', { do: 'move', nodes: [[0, 1]], dx: -1, dy: 0 }]);
    expect(tool.key!(key('Delete'))).toBe(true);
    expect(asked.pop()).toEqual(['Delete a node', { do: 'delete', nodes: [[0, 1]] }]);
    expect(tool.key!(key('Delete'))).toBe(false);
    expect(tool.key!(key('Escape'))).toBe(true);
    expect(editor.hand.tool).toBe('select');
  });
});

describe('measure', () => {
  it('two presses give distance and angle, drawn to corners near them', () => {
    const tool = measureTool(bench);
    tool.down!(press(30.3, 29.8));
    tool.move!(press(69.8, 70.2));
    tool.down!(press(69.8, 70.2));
    // From corner to corner of a square of 40: 40·√2 at 45 degrees.
    expect(editor.hand.measured[0]).toBe('56.57 mm at 45.0°');
    expect(editor.hand.measured[1]).toBe('across 40 mm, up 40 mm');
  });
  it('a press on a thing tells its area, its edges and its size; on an arc the radius too', () => {
    const tool = measureTool(bench);
    tool.down!(press(50, 50));
    expect(editor.hand.measured).toEqual(['area 1600.0 mm²', 'edges 160 mm', '40 mm × 40 mm']);
    tool.key!(key('Escape'));
    tool.down!(press(170, 50));
    expect(editor.hand.measured.find((line) => line.startsWith('radius'))).toBe('radius here 30 mm');
    expect(editor.hand.measured[0]).toMatch(/^area 251\d\.\d mm²$/);
  });
  it('Escape first forgets the point, then puts the tool down', () => {
    const tool = measureTool(bench);
    editor.hand.tool = 'measure';
    tool.down!(press(50, 50));
    tool.key!(key('Escape'));
    expect([editor.hand.tool, editor.hand.measured]).toEqual(['measure', []]);
    tool.key!(key('Escape'));
    expect(editor.hand.tool).toBe('select');
  });
});

describe('line', () => {
  it('from press to press, or pulled, drawn to what is near; its figures are there to be typed', () => {
    const tool = lineTool(bench);
    tool.down!(press(30.2, 30.1));
    tool.up!(press(30.2, 30.1));
    tool.move!(press(70.2, 29.9));
    tool.down!(press(70.2, 29.9));
    expect(asked.pop()).toEqual(['Draw a line', { kind: 'line', x: 30, y: 30, length: 40, angle: 0 }]);
    pull(tool, [5, 85], [5, 95]);
    expect(asked.pop()).toEqual(['Draw a line', { kind: 'line', x: 5, y: 85, length: 10, angle: 90 }]);
  });
  it('touches a circle where a tangent does', () => {
    const tool = lineTool(bench);
    editor.job.guides = [];
    tool.down!(press(95, 95, { alt: true }));
    // Near the upper tangent from there: found by the right angle at the circle.
    const [dx, dy] = [95 - 140, 95 - 50];
    const d = Math.hypot(dx, dy);
    const along = 900 / d;
    const across = (30 * Math.sqrt(d * d - 900)) / d;
    const touch: Point[] = [1, -1].map((s) => [140 + (dx / d) * along - (s * dy * across) / d, 50 + (dy / d) * along + (s * dx * across) / d]);
    tool.move!(press(touch[0][0] + 0.3, touch[0][1] - 0.2));
    tool.down!(press(touch[0][0] + 0.3, touch[0][1] - 0.2));
    const [, line] = asked.pop() as [string, { x: number; y: number; length: number; angle: number }];
    const a = (line.angle * Math.PI) / 180;
    const [ex, ey] = [line.x + line.length * Math.cos(a), line.y + line.length * Math.sin(a)];
    expect(Math.hypot(ex - 140, ey - 50)).toBeCloseTo(30, 2);
    expect((ex - 140) * (ex - line.x) + (ey - 50) * (ey - line.y)).toBeCloseTo(0, 1);
  });
  it('nothing is drawn by a press alone, and Escape forgets it', () => {
    const tool = lineTool(bench);
    tool.down!(press(30, 30));
    tool.up!(press(30, 30));
    tool.key!(key('Escape'));
    tool.key!(key('Escape'));
    expect([asked, editor.hand.tool]).toEqual([[], 'select']);
  });
});

describe('bridge, point and bit', () => {
  it('a press on a stroke asks for a bridge there, as wide as the check says', () => {
    const tool = bridgeTool(bench);
    const tap = (x: number, y: number) => [tool.down!(press(x, y)), tool.up!(press(x, y))];
    tap(140, 70);
    expect(asked).toEqual([
      ['select', 'ring'],
      ['Bridge', { do: 'bridge', ids: ['ring'], at: [140, 70], width: 3 }],
    ]);
    // In the island and outside there is no stroke.
    tap(140, 50);
    tap(100, 95);
    expect(asked).toHaveLength(2);
    expect(editor.note!.text).toMatch(/between an island/);
  });
  it('a pull lays one along it, from here to there', () => {
    const tool = bridgeTool(bench);
    tool.down!(press(20, 30));
    tool.move!(press(50, 70));
    tool.up!(press(50, 70));
    expect(asked).toEqual([['Bridge', { kind: 'rectangle', name: 'Bridge', x: 35, y: 50, width: 50, height: 3, angle: 53.13, bridge: true }]]);
    // Given up by Escape, nothing is laid.
    tool.down!(press(20, 30));
    tool.move!(press(50, 70));
    tool.key!(key('Escape'));
    tool.up!(press(50, 70));
    expect(asked).toHaveLength(1);
  });
  it('a picked point goes to who asked for it, drawn to what is near', () => {
    const got: number[][] = [];
    editor.hand.pointFor = { what: 'start', then: (x, y) => got.push([x, y]) };
    pointTool(bench).down!(press(70.4, 69.7));
    expect([got, editor.hand.pointFor, editor.hand.tool]).toEqual([[[70, 70]], null, 'select']);
  });
  it('says whether a bit fits, how deep a V would go, and where there is nothing', () => {
    const words: string[] = [];
    const context = new Proxy(
      { canvas: { clientWidth: 800, clientHeight: 600 }, measureText: () => ({ width: 10 }), fillText: (text: string) => words.push(text) } as Record<
        string,
        unknown
      >,
      {
        get: (target, name) => target[name as string] ?? (() => {}),
        set: () => true,
      },
    ) as unknown as CanvasRenderingContext2D;
    const at = (x: number, y: number, bit: string) => {
      editor.hand.bit = bit;
      const tool = bitTool(bench);
      tool.move!(press(x, y));
      tool.paint!(context);
      return words.splice(0).join(' ');
    };
    // A bit of 30 in the middle of a square of 40: 20 to the edge, 15 needed.
    expect(at(50, 50, 'end')).toBe('fits, 5 mm to spare');
    expect(at(35, 50, 'end')).toBe('too wide by 20 mm');
    // 90 degrees: as deep as it is to the edge (TRADE: w = 2h).
    expect(at(50, 50, 'v')).toBe('reaches 20 mm deep');
    expect(at(190, 5, 'v')).toBe('v: outside the artwork');
  });
});

describe('marks of the cuts', () => {
  const ready = () => {
    const marks: CutMarks = {
      numbers: [
        { id: 'drill', number: 1, at: [20, 20] },
        { id: 'carve', number: 2, at: [60, 20] },
        { id: 'out', number: 3, at: [60, 20] },
      ],
      open: 'out',
      tabs: [
        [30, 70],
        [90, 70],
      ],
      pieces: [],
      spots: [],
      reorder: (from, to) => asked.push(['order', from, to]),
      moveTab: (index, to) => asked.push(['tab', index, ...to]),
      removeTab: (index) => asked.push(['remove', index]),
    };
    return cutsTool(bench, () => marks);
  };
  it('takes presses on marks only: elsewhere the board is pulled', () => {
    const tool = ready();
    expect([tool.takes(press(20, 20)), tool.takes(press(30, 70)), tool.takes(press(120, 40))]).toEqual([true, true, false]);
  });
  it('a tab goes where it is let go; a press alone moves nothing, and makes it the one Delete takes', () => {
    const tool = ready();
    pull(tool, [30, 70], [50, 72]);
    expect(asked).toEqual([['tab', 0, 50, 72]]);
    tool.down!(press(90, 70));
    tool.up!(press(90, 70));
    expect(tool.key!(key('x'))).toBe(false);
    expect(tool.key!(key('Delete'))).toBe(true);
    expect(tool.key!(key('Delete'))).toBe(false);
    expect(asked).toEqual([
      ['tab', 0, 50, 72],
      ['remove', 1],
    ]);
  });
  it('a number let go on another takes its place; let go on the bare board it stays', () => {
    const tool = ready();
    pull(tool, [20, 20], [60, 20]);
    pull(tool, [20, 20], [150, 90]);
    expect(asked).toEqual([['order', 0, 1]]);
  });
  it('numbers at one place stand side by side: the second is reached beside the first', () => {
    const tool = ready();
    // A disc is 22 pixels wide, 11 mm here.
    pull(tool, [71, 20], [20, 20]);
    expect(asked).toEqual([['order', 2, 0]]);
  });
});
