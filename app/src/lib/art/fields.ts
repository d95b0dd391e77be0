/** What can be typed about each kind of thing: its figures, in the order a carver thinks of them. */
import type { Item } from '@kerbe/core/job';
import { ARTWORK } from '$lib/labels/artwork';

export type Field =
  /** A circle's width is its height too, and its radius half of it. */
  | { kind: 'length'; key: string; label: string; min?: number; also?: string; half?: boolean }
  | { kind: 'number'; key: string; label: string; unit: string; min: number; max: number; step?: number }
  | { kind: 'choice'; key: string; label: string; options: { value: string; label: string }[] };

const length = (key: string, label: string, min = 0.01): Field => ({ kind: 'length', key, label, min });
const count = (key: string, label: string, min: number, max: number, unit = ''): Field => ({ kind: 'number', key, label, unit, min, max });

export const FIELDS: Record<Item['kind'], Field[]> = {
  text: [],
  rectangle: [
    length('width', 'Width'),
    length('height', 'Height'),
    length('radius', 'Corner radius', 0),
    {
      kind: 'choice',
      key: 'corner',
      label: ARTWORK.cornerStyle,
      options: [
        { value: 'round', label: ARTWORK.rounded },
        { value: 'cut', label: ARTWORK.cutOffStraight },
        { value: 'hollow', label: ARTWORK.hollowed },
        { value: 'step', label: ARTWORK.stepped },
      ],
    },
  ],
  ellipse: [length('width', 'Width'), length('height', 'Height')],
  polygon: [count('sides', 'Sides', 3, 200), length('diameter', 'Across the corners')],
  star: [count('points', 'Points', 3, 200), length('diameter', 'Across the points'), length('inner', 'Across the hollows')],
  slot: [length('length', 'Length over all'), length('width', 'Width')],
  arrow: [
    length('length', 'Length over all'),
    length('shaft', 'Thickness of the shaft'),
    length('head', 'Width of the head'),
    length('headLength', 'Length of the head'),
  ],
  line: [length('length', 'Length')],
  arc: [length('radius', 'Radius'), { kind: 'number', key: 'sweep', label: ARTWORK.sweep, unit: 'degrees', min: -360, max: 360, step: 0.01 }],
  holes: [length('diameter', 'Hole diameter')],
  path: [
    {
      kind: 'choice',
      key: 'fill',
      label: ARTWORK.treatedAs,
      options: [
        { value: 'nonzero', label: ARTWORK.aShapeOverlapsFilled },
        { value: 'evenodd', label: ARTWORK.aShapeOverlapsHollow },
        { value: 'none', label: ARTWORK.aLine },
      ],
    },
  ],
  picture: [length('width', 'Width'), length('height', 'Height')],
};

const CIRCLE: Field[] = [
  { kind: 'length', key: 'width', label: ARTWORK.diameter, min: 0.01, also: 'height' },
  { kind: 'length', key: 'width', label: ARTWORK.radius, min: 0.005, also: 'height', half: true },
];
const isCircle = (item: Item): boolean => item.kind === 'ellipse' && item.width === item.height;

/** What can be typed about a thing as it is now. */
export const fieldsOf = (item: Item): Field[] => (isCircle(item) ? CIRCLE : FIELDS[item.kind]);

/** Figures two things of a kind must share to be taken for equal. */
const SIZES: Partial<Record<Item['kind'], readonly string[]>> = {
  rectangle: ['width', 'height', 'radius', 'corner'],
  ellipse: ['width', 'height'],
  polygon: ['sides', 'diameter'],
  star: ['points', 'diameter', 'inner'],
  slot: ['length', 'width'],
  holes: ['diameter'],
};
/** A file's figures are rounded: what differs by less, mm, was meant to be equal. */
const EQUAL = 0.005;

/** The other things that are as large as this one, and of its kind. */
export function equalTo(item: Item, all: readonly Item[]): Item[] {
  const keys = SIZES[item.kind];
  if (!keys) return [];
  const figure = (one: Item, key: string) => (one as unknown as Record<string, number | string>)[key];
  const same = (a: number | string, b: number | string) => (typeof a === 'number' && typeof b === 'number' ? Math.abs(a - b) <= EQUAL : a === b);
  return all.filter((other) => other.id !== item.id && other.kind === item.kind && keys.every((key) => same(figure(item, key), figure(other, key))));
}

export const HOLE_FIELDS: Record<'rows' | 'circle' | 'corners', Field[]> = {
  rows: [count('columns', 'Holes across', 1, 200), count('rows', 'Rows', 1, 200), length('dx', 'Apart, across'), length('dy', 'Apart, between rows')],
  circle: [count('count', 'Holes', 1, 500), length('across', 'Circle they stand on, across')],
  corners: [length('width', 'Width of the plate'), length('height', 'Height of the plate'), length('inset', 'In from both edges')],
};

export const KIND_NAMES: Record<Item['kind'], string> = {
  text: 'Text',
  rectangle: 'Rectangle',
  ellipse: 'Ellipse',
  polygon: 'Polygon',
  star: 'Star',
  slot: 'Slot',
  arrow: 'Arrow',
  line: 'Line',
  arc: 'Arc',
  holes: 'Holes',
  path: 'Free path',
  picture: 'Picture',
};

/** What kind of thing it is, as one says. */
export const kindName = (item: Item): string => (isCircle(item) ? 'Circle' : KIND_NAMES[item.kind]);

/** What a thing is called in lists: its name, its words, or what it is. */
export const nameOf = (item: Item): string => (item.kind === 'text' ? item.text.split('\n')[0].slice(0, 40) : '') || item.name || kindName(item);

/** Shapes that can be added, as a carver calls them. */
export const SHAPES = ['rectangle', 'circle', 'ellipse', 'polygon', 'star', 'slot', 'bow-tie', 'arrow', 'arc', 'line', 'holes'] as const;
export type ShapeName = (typeof SHAPES)[number];
export const shapeLabel = (name: ShapeName): string => (name === 'circle' ? 'Circle' : name === 'bow-tie' ? 'Bow-tie' : KIND_NAMES[name]);

/** A new shape, as large as suits the board. */
export function newShape(kind: ShapeName, board: { width: number; height: number }) {
  const size = Math.max(1, Math.round(Math.min(board.width, board.height) / 3));
  const at = { x: board.width / 2, y: board.height / 2 };
  switch (kind) {
    case 'rectangle':
      return { kind, ...at, width: 1.6 * size, height: size } as const;
    case 'circle':
      return { kind: 'ellipse', ...at, width: size, height: size } as const;
    case 'ellipse':
      return { kind, ...at, width: 1.5 * size, height: size } as const;
    case 'polygon':
      return { kind, ...at, sides: 6, diameter: size } as const;
    case 'star':
      return { kind, ...at, points: 5, diameter: size, inner: 0.4 * size } as const;
    case 'slot':
      return { kind, ...at, length: 1.6 * size, width: 0.4 * size } as const;
    // The key that is let in across a crack: as wide at its ends as a joiner makes it, half of that in its waist. (Common practice.)
    case 'bow-tie': {
      const [half, end, waist] = [0.8 * size, 0.4 * size, 0.2 * size];
      const d = `M${-half} ${-end}L0 ${-waist}L${half} ${-end}L${half} ${end}L0 ${waist}L${-half} ${end}Z`;
      return { kind: 'path', name: 'Bow-tie', ...at, d } as const;
    }
    case 'arrow':
      return { kind, ...at, length: 1.8 * size, shaft: 0.25 * size, head: 0.7 * size, headLength: 0.6 * size } as const;
    case 'arc':
      return { kind, ...at, radius: size / 2, sweep: 180 } as const;
    case 'holes':
      return { kind, ...at, diameter: 5, layout: { kind: 'corners', width: 0.8 * board.width, height: 0.8 * board.height, inset: 10 } } as const;
    default:
      return { kind: 'line', ...at, length: size } as const;
  }
}
