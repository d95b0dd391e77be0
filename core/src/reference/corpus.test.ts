/** Thousands of real drawings against an independent renderer; `npm run soak` takes them all, `npm test` every eightieth. */
import { expect, it } from 'vitest';
import { COLLECTIONS, disagreement, filesOf, LIMIT, STROKE_LIMIT } from './corpus.ts';

const every = Math.max(1, Math.round(80 / Number(process.env.KERBE_SOAK ?? 1)));

/** Files known to differ, and why. */
const DOT = 'has a line of no length: a round pen shows it as a dot, nothing can be cut along it';
const SMALL = 'is made of circles half a unit across, which the renderer draws from few curves';
const KNOWN: Record<string, string> = {
  'circle-divide.svg': DOT,
  'divide-circle.svg': DOT,
  'divide-square.svg': DOT,
  'square-divide.svg': DOT,
  'cc-square.svg': SMALL,
  'grip-horizontal.svg': SMALL,
  'grip-vertical.svg': SMALL,
  'noise-reduction.svg': SMALL,
};

it.each(Object.keys(COLLECTIONS))('%s: the area of what is imported is that of what a renderer paints', { timeout: 1_200_000 }, async (collection) => {
  const files = filesOf(collection).filter((_, i) => i % every === 0);
  const different: string[] = [];
  for (const { name, text } of files) {
    const by = disagreement(text);
    if (!(by < (/stroke-linecap="round"/.test(text) ? STROKE_LIMIT : LIMIT)) && !KNOWN[name]) different.push(`${name}: ${(100 * by).toFixed(2)} %`);
    // The renderer's pictures are freed between turns of the event loop only.
    await new Promise(setImmediate);
  }
  // At least 99.9 % of the files.
  expect(files.length).toBeGreaterThan(2);
  expect(different.length, different.join('\n')).toBeLessThanOrEqual(Math.floor(files.length / 1000));
});
