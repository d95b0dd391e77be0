/** Materials of a shop: what is known of the usual ones, and what the shop says of its own - density, what is bought, what it costs, what to beware of. */
import { z } from 'zod';
import type { ProcessName } from '../process/index.ts';
import { Board, boardArea } from './index.ts';

const price = z.number('A price is a number.').min(0).max(1e6);

/** What a shop says of a material. */
export const ShopMaterial = z.strictObject({
  name: z.string().trim().min(1, 'A material needs a name.').max(40, 'A shorter name, please: 40 letters.'),
  /** A known one it is worked like: feeds and looks are its. */
  like: z.string().max(40).nullable().default(null),
  on: z.array(z.enum(['router', 'torch', 'laser'])).min(1, 'It is worked on one kind of machine at least.'),
  /** g/cm³ */
  density: z.number().gt(0, 'Nothing weighs nothing.').max(25).nullable().default(null),
  /** As it is bought, mm. */
  thicknesses: z.array(z.number().gt(0).max(1000)).max(30).default([]),
  /** For a square metre, in the shop's currency. */
  price: price.nullable().default(null),
  care: z.string().trim().max(300).default(''),
});
export type ShopMaterial = z.infer<typeof ShopMaterial>;

/** A piece that is left, and where it stands. */
export const Leftover = z.strictObject({
  id: z.string().max(40),
  material: z.string().trim().min(1, 'What is it of?').max(60),
  width: z.number().min(5, 'A piece of 5 mm at least.').max(20_000),
  height: z.number().min(5, 'A piece of 5 mm at least.').max(20_000),
  thickness: z.number().min(0.3).max(1000),
  /** Outlines of what is cut out of it already, as a board has them. */
  gone: Board.shape.gone,
  place: z.string().trim().max(80).default(''),
  note: z.string().trim().max(200).default(''),
});
export type Leftover = z.infer<typeof Leftover>;

const DUST = 'Fine dust: extraction on, and a mask that suits it.';
const STONE = 'Stone dust harms the lungs: wet, or with extraction and a mask that suits it.';
const known = (name: string, on: readonly ProcessName[], density: number | null, care = ''): ShopMaterial => ({
  name,
  like: null,
  on: [...on],
  density,
  thicknesses: [],
  price: null,
  care,
});

/** What most shops have. Densities are handbook values, of wood air-dry; foam is bought in many. Cautions are common practice; sheet, maker and local rules have the last word. */
export const USUAL_MATERIALS: readonly ShopMaterial[] = [
  known('pine', ['router'], 0.5),
  known('cedar', ['router'], 0.38, 'Its dust irritates: extraction on.'),
  known('oak', ['router', 'laser'], 0.72, 'Hard-wood dust harms: extraction on.'),
  known('walnut', ['router', 'laser'], 0.64, 'Hard-wood dust harms: extraction on.'),
  known('maple', ['router', 'laser'], 0.7, 'Hard-wood dust harms: extraction on.'),
  known('birch ply', ['router', 'laser'], 0.68, 'Its glue may stop a laser: try a corner.'),
  known('MDF', ['router', 'laser'], 0.75, DUST),
  known('foam', ['router'], null),
  known('acrylic', ['router'], 1.19, 'Melts where the bit rubs: chips, not dust.'),
  known('clear acrylic', ['laser'], 1.19, 'Burns with a clear flame: stand by it, air on.'),
  known('slate board', ['router'], 2.8, STONE),
  known('brass', ['router', 'torch'], 8.5, 'Chips are needles: glasses, no gloves near the bit.'),
  known('aluminium', ['router', 'torch'], 2.7, 'Welds to a bit that rubs. On a torch never over water: the gas explodes.'),
  known('mild steel', ['torch'], 7.85),
  known('stainless steel', ['torch'], 7.9, 'Its fumes harm: extraction on.'),
  known('copper', ['torch'], 8.96),
  known('leather, plant-tanned', ['laser'], 0.9, 'Plant-tanned only: chrome in leather makes poison.'),
  known('cork', ['laser'], 0.2),
  known('card', ['laser'], 0.7),
  known('slate', ['laser'], 2.8),
  known('coated tile', ['laser'], 2.3),
  known('coated steel', ['laser'], 7.85),
];

/** How a job names it: one that is worked like another says so, and is found by that. */
export const nameInJob = ({ name, like }: Pick<ShopMaterial, 'name' | 'like'>): string => (like ? `${name}, like ${like}`.slice(0, 60) : name);

/** The shop's materials and the usual ones it says nothing of itself, in that order of the usual. */
export function allMaterials(own: readonly ShopMaterial[]): ShopMaterial[] {
  const same = (a: string, b: string) => a.toLowerCase() === b.toLowerCase();
  const usual = USUAL_MATERIALS.map((one) => own.find(({ name }) => same(name, one.name)) ?? one);
  return [...usual, ...own.filter((one) => !USUAL_MATERIALS.some(({ name }) => same(name, one.name)))];
}

/** What is known of the material a board names; one named otherwise is taken for the usual one its name speaks of. */
export function materialNamed(name: string, own: readonly ShopMaterial[]): ShopMaterial | null {
  const all = allMaterials(own);
  const lower = name.toLowerCase();
  const exact = all.find((one) => nameInJob(one).toLowerCase() === lower || one.name.toLowerCase() === lower);
  // The longest name that is a word of it: “clear acrylic 6 mm” is clear acrylic before it is acrylic.
  const within = (one: ShopMaterial) => new RegExp(`\\b${one.name.toLowerCase().replace(/[^\w ]/g, '.')}\\b`).test(lower);
  return exact ?? all.filter(within).sort((a, b) => b.name.length - a.name.length)[0] ?? null;
}

type Size = Pick<Board, 'width' | 'height' | 'gone'>;

/** Weight of a board, kg. (Derived: volume times density.) @param density g/cm³ */
export const boardWeight = (board: Size & { thickness: number }, density: number): number => (boardArea(board) * board.thickness * density) / 1e6;

/** What a board costs, cut from material of that price for a square metre. */
export const boardPrice = (board: Size, perSquareMetre: number): number => (boardArea(board) * perSquareMetre) / 1e6;

/** Pieces that are left and large enough for a board, either way round, the smallest first. */
export function leftoversFor(board: { width: number; height: number; thickness: number; material: string }, pieces: readonly Leftover[]): Leftover[] {
  const fits = (p: Leftover) => (p.width >= board.width && p.height >= board.height) || (p.width >= board.height && p.height >= board.width);
  return pieces
    .filter((p) => p.material.toLowerCase() === board.material.toLowerCase() && Math.abs(p.thickness - board.thickness) < 0.5 && fits(p))
    .sort((a, b) => a.width * a.height - b.width * b.height || a.id.localeCompare(b.id));
}
