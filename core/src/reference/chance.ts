import fc from 'fast-check';

/** Numbers spread evenly from min to max. (fc.double spreads evenly over representations, which are nearly all close to nought.) */
export const even = (min: number, max: number): fc.Arbitrary<number> => fc.integer({ min: 0, max: 1_000_000 }).map((n) => min + ((max - min) * n) / 1_000_000);

/** How often a random test runs: the short form in `npm test`, many times that in `npm run soak`. */
export const often = (runs: number): { numRuns: number } => ({ numRuns: runs * Number(process.env.KERBE_SOAK ?? 1) });
