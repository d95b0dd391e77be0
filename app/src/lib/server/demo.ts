/**
 * The demo shop: Larkmere Arboretum orders its signs from the Saltgrass Sign Shed (both invented).
 * Filled in once, when the database is empty.
 */
import { createHash, randomUUID } from 'node:crypto';
import { env } from '$env/dynamic/private';
import { Planning, ShopHours } from '@kerbe/core/day/planning';
import { midnight, momentOf, openSpans } from '$lib/day/clock';
import { picturePng } from '@kerbe/files';
import type { z } from 'zod';
import { ownFilesOf, PLANNED_FROM } from './assets';
import { auth, type Role } from './auth';
import { fillCrib } from './crib';
import { db } from './db';
import { demoJobs } from './demo-jobs';
import { leafPixels } from './demo-laser';
import { createJob } from './jobs';
import { textOf } from './job-text';
import { inChild } from './children';
import { keepShopSettings } from './shop';
import { ShopSettings } from '$lib/shop/settings';
import { trouble } from './log';

export const DEMO_PEOPLE: { role: Role; name: string; email: string }[] = [
  { role: 'owner', name: 'owner', email: 'owner@saltgrass.example' },
  { role: 'operator', name: 'operator', email: 'operator@saltgrass.example' },
];

export const demoMode = (): boolean => env.KERBE_DEMO === '1';
export const demoPassword = (): string => env.KERBE_DEMO_PASSWORD ?? '';

export async function fillDemo(): Promise<void> {
  const ids = new Map<string, string>();
  for (const { role, name, email } of DEMO_PEOPLE) {
    const known = await db().selectFrom('user').select('id').where('email', '=', email).executeTakeFirst();
    ids.set(name, known?.id ?? (await auth().api.createUser({ body: { email, name, password: demoPassword(), role } })).user.id);
  }
  await fillCrib();
  if (!(await db().selectFrom('shop').select('one').executeTakeFirst()))
    await keepShopSettings(ShopSettings.parse({ name: 'Saltgrass Sign Shed', material: 'cedar', materials: PRICED }));
  const any = await db().selectFrom('job').select('id').limit(1).executeTakeFirst();
  if (any) return;
  const leaf = randomUUID();
  for (const [job, author] of demoJobs(leaf)) {
    const id = await createJob(textOf(job), { id: ids.get(author) ?? '', name: author });
    if (Object.values(job.items).some((item) => item.kind === 'picture')) await keepLeaf(leaf, id, author);
  }
  await planDemo(new Date());
  // The pictures of the carved boards come when they are ready: the shop opens without waiting for them.
  void hangPictures().catch((error: Error) => trouble('demo pictures', error));
}

/** What the shed buys, and for how much; invented. */
const PRICED = [
  { name: 'cedar', on: ['router'], density: 0.38, thicknesses: [19, 25], price: 62, care: 'Its dust irritates: extraction on.' },
  { name: 'birch ply', on: ['router', 'laser'], density: 0.68, thicknesses: [3, 6, 12, 18], price: 28, care: 'Its glue may stop a laser: try a corner.' },
];

/** Some of the jobs are promised: the plan of the day has something to plan. */
const PROMISED: Record<string, { days: number; at: string } & Partial<z.input<typeof Planning>>> = {
  'Heron Walk': { days: 1, at: '15:00', promisedTo: 'Larkmere Arboretum', finishing: [{ name: 'Paint', hands: 20, waits: 120 }] },
  'Reed Gate': { days: 1, at: '12:00', promisedTo: 'Larkmere Arboretum', urgent: true },
  'Bench plate': { days: 2, at: '16:00', quantity: 2 },
  'Specimen tags': { days: 1, at: '16:30', promisedTo: 'Larkmere Arboretum' },
};

async function planDemo(now: Date): Promise<void> {
  const first = midnight(now);
  const working = openSpans(ShopHours.parse({}), first, 14);
  for (const [i, [name, { days, at, ...planning }]] of Object.entries(PROMISED).entries()) {
    const due = `${momentOf(working[days].from, first).slice(0, 11)}${at}`;
    await db()
      .updateTable('job')
      .set({ planning: JSON.stringify(Planning.parse({ ...planning, due, since: new Date(now.getTime() + i).toISOString() })) })
      .where('name', '=', name)
      .execute();
  }
}

/** The picture of a leaf, with the job it is burned in. */
async function keepLeaf(id: string, job: string, author: string): Promise<void> {
  const [width, height] = [360, 240];
  const bytes = await picturePng({ width, height, data: leafPixels(width, height) });
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  await db().insertInto('asset').values({ id, job_id: job, kind: 'picture', name: 'leaf.png', mime: 'image/png', sha256, bytes, author }).execute();
}

/** Jobs that have no picture yet get that of their carved board. */
async function hangPictures(): Promise<void> {
  for (const { id, doc, ...files } of await db()
    .selectFrom('job')
    .select(['id', ...PLANNED_FROM])
    .where('picture', 'is', null)
    .execute()) {
    const picture = await inChild('picture', { doc, own: await ownFilesOf(files) });
    await db().updateTable('job').set({ picture }).where('id', '=', id).where('picture', 'is', null).execute();
  }
}
