/**
 * The demo shop: Larkmere Arboretum orders its signs from the Saltgrass Sign Shed (both invented).
 * Filled in once, when the database is empty.
 */
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
}
