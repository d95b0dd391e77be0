/**
 * Who has been let in, besides what the database says: people known lately, for the machine's sake while
 * it is away; sessions that are ended, whatever it says; and the streams each holds open.
 */
import type { Session } from '../../door/guests';
import { db } from './db';

type Person = NonNullable<App.Locals['user']>;

const LATELY = 12 * 3600e3;
const MOST = 2000;
const lately = new Map<string, { person: Person; cookie: string; at: number }>();
const ended = new Map<string, number>();
/** Ended, and not yet out of the database. */
const undropped = new Set<string>();
const streams = new Map<string, Set<{ user: string; close: () => void }>>();

export function remember({ token, cookie }: Session, person: Person): void {
  lately.delete(token);
  lately.set(token, { person, cookie, at: Date.now() });
  if (lately.size > MOST) lately.delete(lately.keys().next().value!);
}

/** Somebody who came in lately by the very same cookie. */
export function knownLately(session: Session | null): Person | null {
  const known = session && lately.get(session.token);
  return known && known.cookie === session.cookie && Date.now() - known.at < LATELY ? known.person : null;
}

export const hasEnded = (session: Session | null): boolean => session !== null && ended.has(session.token);

/** Forgets a session and closes its streams; the row goes as soon as the database takes it. */
export function endSession(token: string): void {
  ended.set(token, Date.now());
  undropped.add(token);
  // Answers may still be on their way when the row is gone: it stays ended here for a while.
  for (const [old, at] of ended) if (Date.now() - at > LATELY && !undropped.has(old)) ended.delete(old);
  lately.delete(token);
  for (const { close } of streams.get(token) ?? []) close();
  void dropEnded();
}

/** Ends every session of an account but one. */
export async function endSessionsOf(user: string, but: string | null = null): Promise<void> {
  const rows = await db().selectFrom('session').select('token').where('userId', '=', user).execute();
  for (const { token } of rows) if (token !== but) endSession(token);
  for (const [token, { person }] of lately) if (person.id === user && token !== but) endSession(token);
  for (const [token, open] of streams) if (token !== but && [...open].some((one) => one.user === user)) endSession(token);
  await dropEnded();
}

/** Takes ended sessions out of the database; tried again until it has taken them. */
let dropping: Promise<void> | null = null;
function dropEnded(): Promise<void> {
  return (dropping ??= (async () => {
    try {
      // More may end while some are on their way.
      while (undropped.size > 0) {
        const tokens = [...undropped];
        await db().deleteFrom('session').where('token', 'in', tokens).execute();
        for (const token of tokens) undropped.delete(token);
      }
    } catch {
      setTimeout(() => void dropEnded(), 2000).unref();
    } finally {
      dropping = null;
    }
  })());
}

/** A stream that a session holds open: closed when the session ends. */
export function holdStream(token: string, user: string, close: () => void): () => void {
  const open = streams.get(token) ?? new Set();
  const one = { user, close };
  streams.set(token, open.add(one));
  return () => {
    open.delete(one);
    if (open.size === 0) streams.delete(token);
  };
}

/** Is this session still good, as far as anybody can tell? With the database away it stays what it was. */
export async function stillGood(token: string): Promise<boolean> {
  if (ended.has(token)) return false;
  try {
    const row = await db().selectFrom('session').select('expiresAt').where('token', '=', token).executeTakeFirst();
    return row !== undefined && row.expiresAt.getTime() > Date.now();
  } catch {
    return true;
  }
}
