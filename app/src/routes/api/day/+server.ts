import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { DayOrder } from '@kerbe/core/day/planning';
import { jsonOf } from '$lib/server/body';
import { dayAt, keepDayOrder } from '$lib/server/day';
import type { RequestHandler } from './$types';

/** The day as it stands now. */
export const GET: RequestHandler = async () => json(await dayAt(new Date()), { headers: { 'cache-control': 'no-store' } });

/** Plans it anew: what a person put somewhere is free again. */
export const POST: RequestHandler = async ({ request }) => {
  if (!(await jsonOf(request, z.object({ do: z.literal('plan') })))) return json({ why: 'What is to be done was not said.' }, { status: 400 });
  const now = new Date();
  const { order } = await dayAt(now, null);
  await keepDayOrder({ order, pins: {} });
  return json(await dayAt(now));
};

/** Keeps an order somebody put it in. */
export const PUT: RequestHandler = async ({ request }) => {
  const order = await jsonOf(request, DayOrder);
  if (!order) return json({ why: 'The order could not be read.' }, { status: 400 });
  await keepDayOrder(order);
  return json(await dayAt(new Date()));
};
