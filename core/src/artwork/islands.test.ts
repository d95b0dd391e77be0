/** Which letters lose their middle when they are cut through: the list of the trade (common practice), in every face of the shop; none of a stencil's. */
import { describe, expect, it } from 'vitest';
import { planJob } from '../plan/index.ts';
import { fontOf, makeJob } from '../reference/fixtures.ts';
import { FACES } from './text/index.ts';

const ALL = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789';
/** (Common practice.) */
const WITH = 'ABDOPQR04689abdegopq';

/** How many middles fall out of a text that is cut through. */
async function islandsOf(text: string, face: string): Promise<number> {
  const job = makeJob({
    process: 'torch',
    board: { width: 400, height: 200, thickness: 3, material: 'mild steel', holdDown: 'slats' },
    items: { t: { kind: 'text', id: 't', text, face, x: 200, y: 100, capHeight: 80 } },
    itemOrder: ['t'],
    outline: null,
    tools: { n: { kind: 'nozzle', id: 'n' } },
    cuts: { c: { kind: 'torch', id: 'c', on: 'art', tool: 'n', side: 'inside' } },
    cutOrder: ['c'],
  });
  const found = (await planJob(job, { fonts: fontOf })).findings.find(({ code }) => code === 'art-islands');
  return (found?.data.count as number | undefined) ?? 0;
}

describe('islands of letters', () => {
  // A face whose letters are closed as in a textbook: Cinzel leaves P, R, 6 and 9 open, Barlow the 4, a script joins what it likes.
  it.each(['zilla'])('%s: those of the list, and no others', { timeout: 120_000 }, async (face) => {
    const found: string[] = [];
    for (const letter of ALL) if ((await islandsOf(letter, face)) > 0) found.push(letter);
    expect(found.join('')).toBe([...ALL].filter((letter) => WITH.includes(letter)).join(''));
  });
  it('are counted: two in a B and an 8, in a text all of them', async () => {
    expect(await islandsOf('B', 'bebas')).toBe(2);
    expect(await islandsOf('8', 'bebas')).toBe(2);
    expect(await islandsOf('LARKMERE', 'bebas')).toBe(3);
  });
  it('a stencil has none', async () => {
    const stencil = FACES.find(({ name }) => /stencil/i.test(name))!;
    expect(await islandsOf(ALL.slice(0, 26), stencil.id)).toBe(0);
  });
});
