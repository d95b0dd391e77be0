/** What is said of a job for the shop's day, and the order a day was put in. */
import { z } from 'zod';

/** A minute of the shop's own clock. */
const Moment = z.string().regex(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, 'A day and a time, as 2026-05-04T16:30.');
const minutes = z
  .number('A time is a number of minutes.')
  .min(0)
  .max(60 * 24 * 30);

export const Planning = z.strictObject({
  /** Since when it is on the plan of the day; boards cut since count towards its quantity. */
  since: z.iso.datetime().nullable().default(null),
  due: Moment.nullable().default(null),
  promisedTo: z.string().max(120).default(''),
  quantity: z.int('A quantity is a whole number.').min(1, 'At least one board.').max(200).default(1),
  urgent: z.boolean().default(false),
  boardHere: z.boolean().default(true),
  finishing: z
    .array(z.strictObject({ name: z.string().trim().min(1, 'A step needs a name.').max(60), hands: minutes, waits: minutes }))
    .max(20)
    .default([]),
});
export type Planning = z.infer<typeof Planning>;

/** Tasks in the order they are taken, and those a person put at a time: not before it. */
export const DayOrder = z.strictObject({
  order: z.array(z.string().max(80)).max(2000).default([]),
  pins: z.record(z.string().max(80), Moment).default({}),
});
export type DayOrder = z.infer<typeof DayOrder>;

/** When somebody is in, on which days of the week (0 is Sunday), and how many. */
export const ShopHours = z.strictObject({
  from: z
    .string()
    .regex(/^([01]\d|2[0-3]):[0-5]\d$/)
    .default('08:00'),
  to: z
    .string()
    .regex(/^([01]\d|2[0-3]):[0-5]\d$/)
    .default('17:00'),
  days: z.array(z.int().min(0).max(6)).min(1, 'On one day at least somebody is in.').max(7).default([1, 2, 3, 4, 5]),
  people: z.int().min(1, 'Somebody has to be in.').max(50).default(1),
});
export type ShopHours = z.infer<typeof ShopHours>;
