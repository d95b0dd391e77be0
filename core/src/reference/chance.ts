import fc from 'fast-check';

/** Numbers spread evenly from min to max. (fc.double spreads evenly over representations, which are nearly all close to zero.) */
export const even = (min: number, max: number): fc.Arbitrary<number> => fc.integer({ min: 0, max: 1_000_000 }).map((n) => min + ((max - min) * n) / 1_000_000);

/** How often a random test runs: a fifth of a round in `npm test`, which takes the same cases every time, as many rounds as it is told to in `npm run soak`. */
export const often = (runs: number): { numRuns: number } => ({ numRuns: Math.ceil(runs * Number(process.env.KERBE_SOAK ?? 0.2)) });
