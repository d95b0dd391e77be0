/** Kinds of number and name that the job document is made of. Lengths are mm. */
import { z } from 'zod';

export const length = z.number().min(-100_000).max(100_000);
export const positive = z.number().gt(0).max(100_000);
export const notNegative = z.number().min(0).max(100_000);
/** Names that every object has by itself (`constructor`, `toString`): looked up in a record they would be found without being there. */
const inborn = (name: string): boolean => name in {};
export const id = z
  .string()
  .regex(/^[A-Za-z0-9_-]{1,40}$/)
  .refine((name) => !inborn(name), 'This name cannot be an id; choose another.');
