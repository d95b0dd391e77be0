/** Materials of a shop: named, weighed, priced; pieces that are left. */
import { describe, expect, it } from 'vitest';
import { materialOf } from '../feeds/index.ts';
import { lookOf } from '../proof/looks.ts';
import { allMaterials, boardPrice, boardWeight, leftoversFor, materialNamed, nameInJob, ShopMaterial, USUAL_MATERIALS, type Leftover } from './materials.ts';

const iroko = ShopMaterial.parse({ name: 'iroko', like: 'oak', on: ['router'], density: 0.66, thicknesses: [22, 28], price: 95 });

describe('materials', () => {
  it('an own one that is worked like another has its feeds and its look, and keeps its name', () => {
    const name = nameInJob(iroko);
    expect(name).toBe('iroko, like oak');
    expect(materialOf(name)).toEqual({ key: 'oak', known: true });
    expect(lookOf(name)).toBe('oak');
    expect(materialNamed(name, [iroko])).toBe(iroko);
  });
  it('what the shop says of a usual one takes its place', () => {
    const own = ShopMaterial.parse({ name: 'Oak', on: ['router'], price: 80 });
    const all = allMaterials([own, iroko]);
    expect(all.filter(({ name }) => name.toLowerCase() === 'oak')).toEqual([own]);
    expect(all).toHaveLength(USUAL_MATERIALS.length + 1);
    expect(materialNamed('oak', [own])).toBe(own);
  });
  it('a board that is named otherwise is taken for what its name speaks of, the longest name first', () => {
    expect(materialNamed('Clear acrylic, 6 mm', [])?.name).toBe('clear acrylic');
    expect(materialNamed('brass 1.5', [])?.name).toBe('brass');
    expect(materialNamed('unobtainium', [])).toBeNull();
  });
  it('every usual router material has feeds of its own', () => {
    for (const { name } of USUAL_MATERIALS.filter(({ on }) => on.includes('router'))) expect(materialOf(name).known, name).toBe(true);
  });
  it('weight and price: a cubic metre of water weighs a tonne, half a square metre costs half', () => {
    expect(boardWeight({ width: 1000, height: 1000, thickness: 1000 }, 1)).toBe(1000);
    // Handbook: mild steel weighs 7.85 kg for a square metre and a millimetre.
    expect(boardWeight({ width: 1000, height: 1000, thickness: 1 }, materialNamed('mild steel', [])!.density!)).toBeCloseTo(7.85, 9);
    expect(boardPrice({ width: 500, height: 1000 }, 90)).toBe(45);
  });
  it('a slip is said', () => {
    expect(ShopMaterial.safeParse({ name: ' ', on: ['router'] }).error?.issues[0].message).toBe('A material needs a name.');
    expect(ShopMaterial.safeParse({ name: 'x', on: [] }).error?.issues[0].message).toContain('one kind of machine');
  });
});

describe('pieces that are left', () => {
  const piece = (id: string, width: number, height: number, more: Partial<Leftover> = {}): Leftover => ({
    ...{ id, material: 'oak', width, height, thickness: 18, place: '', note: '' },
    ...more,
  });
  it('are offered where a board fits on them, either way round, the smallest first', () => {
    const pieces = [
      piece('a', 500, 400),
      piece('b', 160, 310),
      piece('c', 310, 150),
      piece('d', 299, 400),
      piece('e', 900, 900, { material: 'pine' }),
      piece('f', 900, 900, { thickness: 22 }),
    ];
    expect(leftoversFor({ width: 300, height: 150, thickness: 18, material: 'Oak' }, pieces).map(({ id }) => id)).toEqual(['c', 'b', 'd', 'a']);
    expect(leftoversFor({ width: 600, height: 450, thickness: 18, material: 'oak' }, pieces)).toEqual([]);
  });
});
