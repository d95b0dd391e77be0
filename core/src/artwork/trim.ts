/** Pictures trimmed at their edges: what is left keeps its place and its scale, and what is cut off can be had back. */
import type { Item } from '../job/items.ts';

type PictureItem = Extract<Item, { kind: 'picture' }>;

/** Sides of a picture as it stands on the board before it is turned. */
export const SIDES = ['left', 'right', 'top', 'bottom'] as const;
export type Side = (typeof SIDES)[number];

/** Shares of the whole picture that are cut off, by its own sides. */
export type Trim = Record<Side, number>;
const UNTRIMMED: Trim = { left: 0, right: 0, top: 0, bottom: 0 };

/** A mirrored picture has its own left on the right. */
const ownSide = ({ mirror }: PictureItem, side: Side): Side => (mirror && side === 'left' ? 'right' : mirror && side === 'right' ? 'left' : side);
const across = (side: Side): [Side, Side] => (side === 'left' || side === 'right' ? ['left', 'right'] : ['top', 'bottom']);
const tidy = (value: number) => Math.round(value * 1e5) / 1e5;

/** How long the whole picture is between a side and the one across from it, mm. */
export function wholeLength(item: PictureItem, side: Side): number {
  const trim = item.trim ?? UNTRIMMED;
  const [a, b] = across(side);
  return (a === 'left' ? item.width : item.height) / (1 - trim[a] - trim[b]);
}

/** How much is trimmed off at a side, mm. */
export const trimmedOff = (item: PictureItem, side: Side): number => (item.trim ?? UNTRIMMED)[ownSide(item, side)] * wholeLength(item, side);

/** The least that is left of a picture, as a share of the whole. */
const LEAST = 0.01;

/**
 * A picture with so much trimmed off at one side, counted from its whole edge, mm; what is left stays where it is.
 * Never more than leaves a hundredth of it.
 */
export function trimmed(item: PictureItem, side: Side, off: number): PictureItem {
  const before = item.trim ?? UNTRIMMED;
  const own = ownSide(item, side);
  const [a, b] = across(side);
  const other = own === a ? b : a;
  const whole = wholeLength(item, side);
  const share = Math.max(0, Math.min(off / whole, 1 - LEAST - before[other]));
  const trim = { ...before, [own]: share };
  const size = tidy(whole * (1 - trim[a] - trim[b]));
  const was = a === 'left' ? item.width : item.height;
  // Its middle moves away from the side that is trimmed by half of what is lost.
  const moved = ((was - size) / 2) * (side === 'left' || side === 'bottom' ? 1 : -1);
  const turn = (item.angle * Math.PI) / 180;
  const [dx, dy] = a === 'left' ? [Math.cos(turn) * moved, Math.sin(turn) * moved] : [-Math.sin(turn) * moved, Math.cos(turn) * moved];
  const { trim: _, ...rest } = item;
  return {
    ...rest,
    ...(SIDES.some((one) => trim[one] > 0) ? { trim } : {}),
    x: tidy(item.x + dx),
    y: tidy(item.y + dy),
    ...(a === 'left' ? { width: size } : { height: size }),
    // Nobody has said how large it is by trimming it.
    ...(a === 'left' && item.proposedWidth === item.width ? { proposedWidth: size } : {}),
  };
}
