/** The shop's people: accounts made, changed and removed. There is always an owner. */
import { sql, type Transaction } from 'kysely';
import type { NewPerson } from '$lib/shop/people';
import { auth, type Role } from './auth';
import { db, type Tables } from './db';
import { hashInTurn, passwordFault } from './passwords';
import { endSessionsOf } from './sessions';

const LAST_OWNER = 'There is no other owner: make somebody else one first. A shop without an owner could never be changed again.';
const GONE = 'This account is not in the shop any more.';

export const people = () => db().selectFrom('user').select(['id', 'name', 'email', 'role']).orderBy('name').execute();
export const anybody = async (): Promise<boolean> => (await db().selectFrom('user').select('id').limit(1).executeTakeFirst()) !== undefined;

/** Makes an account. Gives its id, or why not, and which field says so. */
export async function makePerson({ name, email, role, password }: NewPerson): Promise<{ id: string } | { why: string; field: keyof NewPerson }> {
  const why = passwordFault(password, [name, email]);
  const fault = why ? { why, field: 'password' as const } : await inUse(name, email);
  if (fault) return fault;
  try {
    const { user } = await auth().api.createUser({ body: { name, email, role, password } });
    return { id: user.id };
  } catch (error) {
    // Two at once: the database took one.
    const again = await inUse(name, email);
    if (again) return again;
    throw error;
  }
}

async function inUse(name: string, email: string): Promise<{ why: string; field: 'email' | 'name' } | null> {
  const why = await registered(email);
  if (why) return { why, field: 'email' };
  const called = await taken(name);
  return called ? { why: called, field: 'name' } : null;
}

async function registered(email: string): Promise<string | null> {
  const row = await db().selectFrom('user').select('id').where('email', '=', email.toLowerCase()).executeTakeFirst();
  return row ? `There is an account for ${email} already.` : null;
}

/** Names are how people know each other here: none is there twice. */
async function taken(name: string, but = ''): Promise<string | null> {
  const row = await db()
    .selectFrom('user')
    .select('id')
    .where(sql<string>`lower(name)`, '=', name.toLowerCase())
    .where('id', '!=', but)
    .executeTakeFirst();
  return row ? `Somebody is called ${name} already. Choose another name.` : null;
}

export async function rename(id: string, name: string): Promise<string | null> {
  const why = await taken(name, id);
  if (why) return why;
  await db().updateTable('user').set({ name }).where('id', '=', id).execute();
  return null;
}

/** Changes what somebody may do, from their next request on. */
export const setRole = (id: string, role: Role): Promise<string | null> =>
  change(id, role !== 'owner', (trx) => trx.updateTable('user').set({ role }).where('id', '=', id).execute());

/** Takes somebody out of the shop: sessions and streams end at once; what they did stays in the record under their name. */
export async function removePerson(id: string): Promise<string | null> {
  // While the rows are still there to be found.
  const why = await change(id, true, async () => {});
  if (why) return why;
  await endSessionsOf(id);
  return change(id, true, async (trx) => {
    await trx.deleteFrom('session').where('userId', '=', id).execute();
    await trx.deleteFrom('account').where('userId', '=', id).execute();
    await trx.deleteFrom('user').where('id', '=', id).execute();
  });
}

/** Gives somebody another password; all their sessions end, but for the one that asks. */
export async function setPassword(id: string, password: string, but: string | null = null): Promise<string | null> {
  const person = await db().selectFrom('user').select(['name', 'email']).where('id', '=', id).executeTakeFirst();
  if (!person) return GONE;
  const fault = passwordFault(password, [person.name, person.email]);
  if (fault) return fault;
  await db()
    .updateTable('account')
    .set({ password: await hashInTurn(password) })
    .where('userId', '=', id)
    .where('providerId', '=', 'credential')
    .execute();
  await endSessionsOf(id, but);
  return null;
}

/** Owners are looked at and changed in one: two who demote each other at the same moment do not leave the shop without one. */
function change(id: string, leaves: boolean, work: (trx: Transaction<Tables>) => Promise<unknown>): Promise<string | null> {
  return db()
    .transaction()
    .execute(async (trx) => {
      const owners = await trx.selectFrom('user').select('id').where('role', '=', 'owner').orderBy('id').forUpdate().execute();
      const person = await trx.selectFrom('user').select('id').where('id', '=', id).executeTakeFirst();
      if (!person) return GONE;
      if (leaves && owners.length === 1 && owners[0].id === id) return LAST_OWNER;
      await work(trx);
      return null;
    });
}
