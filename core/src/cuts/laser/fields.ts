/** What every cut of a laser has. */
import { z } from 'zod';
import { common, feed } from '../fields.ts';

export const laserCommon = {
  ...common,
  /** No spindle turns. */
  speed: z.literal(0).default(0),
  feed: feed.default(1500),
  /** Per cent of full power. */
  power: z.number().min(0).max(100).default(30),
  /** Focus so far below the surface, mm; above it when below zero. (Common practice: on it to mark, a third to a half of the thickness below it to cut.) */
  focus: z.number().min(-50).max(50).default(0),
  /** Air assist. */
  air: z.boolean().default(true),
};
