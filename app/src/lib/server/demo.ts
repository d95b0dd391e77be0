/**
 * The demo shop: Larkmere Arboretum orders its signs from the Saltgrass Sign Shed (both invented).
 * Filled in once, when the database is empty.
 */
import { layPlates } from '@kerbe/core/artwork/list';
import type { Job } from '@kerbe/core/job';
import { env } from '$env/dynamic/private';
import { auth, type Role } from './auth';
import { db } from './db';
import { createJob, newSign } from './jobs';

export const DEMO_PEOPLE: { role: Role; name: string; email: string }[] = [
  { role: 'owner', name: 'owner', email: 'owner@saltgrass.example' },
  { role: 'operator', name: 'operator', email: 'operator@saltgrass.example' },
];

export const demoMode = (): boolean => env.KERBE_DEMO === '1';
export const demoPassword = (): string => env.KERBE_DEMO_PASSWORD ?? '';

export async function fillDemo(): Promise<void> {
  for (const { role, name, email } of DEMO_PEOPLE) {
    const context = await auth().$context;
    const known = await context.internalAdapter.findUserByEmail(email);
    if (!known) await auth().api.createUser({ body: { email, name, password: demoPassword(), role } });
  }
  const any = await db().selectFrom('job').select('id').limit(1).executeTakeFirst();
  if (any) return;
  const heron = newSign('Heron Walk');
  heron.board = { ...heron.board, width: 610, height: 190, thickness: 18.9, material: 'cedar', holdDown: 'screws' };
  heron.items.words = { ...heron.items.words, x: 305, y: 95, text: 'HERON WALK', capHeight: 52 } as typeof heron.items.words;
  heron.items.edge = { ...heron.items.edge, x: 305, y: 95, width: 580, height: 160, radius: 22 } as typeof heron.items.edge;
  heron.notes = 'Trailhead board for Larkmere Arboretum.';
  await createJob(heron, 'owner');
  const gate = newSign('Reed Gate');
  gate.board = { ...gate.board, width: 450, height: 200, thickness: 22, material: 'oak', holdDown: 'clamps' };
  gate.items.words = { ...gate.items.words, x: 225, y: 100, text: 'Reed Gate\nclosed at dusk', face: 'lobster', capHeight: 34 } as typeof gate.items.words;
  gate.items.edge = { ...gate.items.edge, x: 225, y: 100, width: 420, height: 170, radius: 40 } as typeof gate.items.edge;
  await createJob(gate, 'operator');
  await createJob(speciesPlates(), 'owner');
}

/** A row of plates for the tree garden, from a list: names carved, plates cut out along their edges. */
function speciesPlates(): Job {
  const job = newSign('Species plates');
  job.board = { ...job.board, width: 400, height: 150, thickness: 9, material: 'birch ply', holdDown: 'tape' };
  const list = {
    columns: ['Name', 'Latin'],
    rows: [
      ['Oak', 'Quercus robur'],
      ['Field maple', 'Acer campestre'],
      ['Wych elm', 'Ulmus glabra'],
      ['Alder', 'Alnus glutinosa'],
      ['Aspen', 'Populus tremula'],
      ['Rowan', 'Sorbus aucuparia'],
    ],
  };
  const { items } = layPlates({ ...job, items: {} }, list, {
    width: 115,
    height: 55,
    radius: 6,
    gap: 12,
    margin: 12,
    face: 'barlow',
    lines: [
      { pattern: '{name}', capHeight: 11, above: 8 },
      { pattern: '{latin}', capHeight: 6, above: -11 },
    ],
    hole: { diameter: 4, inset: 6 },
  });
  job.items = Object.fromEntries(items.map((item) => [item.id, item]));
  job.itemOrder = items.map(({ id }) => id);
  job.outline = null;
  const of = (kind: string) => items.filter((item) => item.kind === kind).map(({ id }) => id);
  job.cuts.carve = { ...job.cuts.carve, name: 'Carve the names', on: of('text') };
  job.cuts.edge = { ...job.cuts.edge, name: 'Cut out the plates', on: of('rectangle'), bit: 'end3' };
  job.notes = 'For the tree walk of Larkmere Arboretum. The holes take the stakes’ screws.';
  return job;
}
