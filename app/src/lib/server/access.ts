/**
 * Who may write where, how much and how often: every writing route with its method, looked up before the
 * route is reached. A route that is not here takes nothing. All of them take requests of our own pages only.
 */
import type { RequestEvent } from '@sveltejs/kit';
import type { Role } from './auth';

type Least = Role | 'anybody';

export interface Rule {
  /** The least role that may. */
  least: Least;
  /** Most bytes of a body. */
  bytes: number;
  /** Most requests in a minute, by person; by address for those who are not signed in. */
  rate: number;
}

const KB = 1024;
const MB = 1024 * KB;
const rule = (least: Least, bytes = 64 * KB, rate = 120): Rule => ({ least, bytes, rate });

export const WRITES: Record<string, Partial<Record<'POST' | 'PUT' | 'PATCH' | 'DELETE', Rule>>> = {
  // Form actions.
  '/': { POST: rule('operator', 26 * MB, 60) },
  '/account': { POST: rule('watcher') },
  '/settings': { POST: rule('owner', 2 * MB, 60) },
  '/people': { POST: rule('owner') },
  '/sign-in': { POST: rule('anybody', 8 * KB, 600) },
  '/first-owner': { POST: rule('anybody', 8 * KB, 20) },
  '/api/sign-out': { POST: rule('anybody', 8 * KB) },
  '/api/jobs': { POST: rule('operator', 25 * MB, 60) },
  '/api/jobs/[id]': { POST: rule('operator', KB, 60), PUT: rule('operator', 25 * MB, 600), PATCH: rule('operator'), DELETE: rule('owner') },
  '/api/jobs/[id]/versions/[revision]': { PATCH: rule('operator') },
  '/api/jobs/[id]/files': { POST: rule('operator', 64 * MB) },
  '/api/jobs/[id]/release': { POST: rule('owner', 64 * KB, 60) },
  '/api/jobs/[id]/layout': { POST: rule('operator', 26 * MB, 30) },
  '/api/bits': { POST: rule('operator', 2 * MB), PATCH: rule('operator'), DELETE: rule('operator') },
  '/api/faces': { POST: rule('operator', 64 * MB) },
  '/api/faces/[id]': { DELETE: rule('owner') },
  '/api/templates': { POST: rule('operator', MB), DELETE: rule('operator') },
  '/api/runs/[id]': { PATCH: rule('operator', 128 * KB) },
  '/api/runs/[id]/remnant': { POST: rule('operator', KB, 20) },
  '/api/runs/[id]/photo': { POST: rule('operator', 64 * MB), DELETE: rule('operator') },
  '/api/machines': { POST: rule('owner', MB) },
  '/api/machines/[id]': { POST: rule('operator'), PUT: rule('owner', MB), PATCH: rule('owner'), DELETE: rule('owner') },
  // A jog speaks ten times a second. A watcher holds and stops: each command has its own rule there.
  '/api/machines/[id]/command': { POST: rule('watcher', 256 * KB, 3000) },
  // Stopping a machine is everybody's who is signed in, as often as they press.
  '/api/machines/[id]/hold': { POST: rule('watcher', 8 * KB, Infinity) },
  '/api/machines/[id]/stop': { POST: rule('watcher', 8 * KB, Infinity) },
  // The door's own, by its token.
  '/api/machines/[id]/told': { POST: rule('anybody', 8 * KB, Infinity) },
  '/api/materials': { PUT: rule('operator', 8 * MB) },
  '/api/day': { POST: rule('operator'), PUT: rule('operator', 256 * KB) },
  '/api/day/hours': { PUT: rule('owner') },
  '/api/day/jobs/[id]': { PATCH: rule('operator') },
  // What went wrong in a browser, for the log; little, and not without end.
  '/api/troubles': { POST: rule('watcher', 16 * KB, 10) },
  // Whoever practises keeps how it went.
  '/api/exercises': { POST: rule('watcher') },
};

const RANK: Record<Least, number> = { anybody: 0, watcher: 1, operator: 2, owner: 3 };
const WHY: Record<Role, string> = {
  owner: 'Only the owner may do that. Ask them to look at it.',
  operator: 'You may watch, hold and stop. To change anything an owner gives you another role.',
  watcher: 'Sign in first.',
};

export interface Refusal {
  status: number;
  why: string;
}

const reads = (method: string) => method === 'GET' || method === 'HEAD' || method === 'OPTIONS';

/** What is asked, as far as the table goes by it. `route`: the pattern of the route; null for none. */
export interface Asked {
  route: string | null;
  method: string;
  role: Role | null;
  /** What the browser says of where it comes from; null when it says nothing. */
  origin: string | null;
  site: string | null;
  /** Where our own pages are. */
  own: string;
  /** Bytes of the body as its head says; null when that does not say. */
  length: number | null;
  /** Whoever asks: the account, or the address. */
  who: string;
}

/** Why something may not be written, or null. */
export function refusal({ route, method, role, origin, site, own, length, who }: Asked, now = performance.now()): Refusal | null {
  if (reads(method)) return null;
  if ((origin !== null && origin !== own) || (site !== null && site !== 'same-origin' && site !== 'none'))
    return { status: 403, why: 'Requests from other sites are refused.' };
  const asked = route === null ? undefined : WRITES[route]?.[method as 'POST'];
  if (asked === undefined) return { status: 403, why: 'Nothing can be written there.' };
  if (RANK[role ?? 'anybody'] < RANK[asked.least])
    return role === null ? { status: 401, why: 'Sign in first.' } : { status: 403, why: WHY[asked.least as Role] };
  if (length === null) return { status: 411, why: 'The length of what is sent must be said first.' };
  if (length > asked.bytes) return { status: 413, why: `That is larger than ${asked.bytes >= MB ? `${asked.bytes / MB} MB` : `${asked.bytes / KB} kB`}. ${route === '/api/jobs/[id]' ? 'The job cannot be saved so: take some of its artwork out, or simplify it.' : 'Leave out what is not needed.'}` }; // prettier-ignore
  if (!withinRate(`${who} ${method} ${route}`, asked.rate, now)) return { status: 429, why: 'Too many at once. Wait a little and try again.' };
  return null;
}

const counts = new Map<string, { left: number; at: number }>();
/** A bucket that fills evenly through the minute. */
function withinRate(key: string, rate: number, now: number): boolean {
  if (rate === Infinity) return true;
  const { left, at } = counts.get(key) ?? { left: rate, at: now };
  const filled = Math.min(rate, left + ((now - at) / 60_000) * rate);
  counts.delete(key);
  counts.set(key, { left: Math.max(0, filled - 1), at: now });
  if (counts.size > 10_000) counts.delete(counts.keys().next().value!);
  return filled >= 1;
}

/** Where a request comes from, as the door says. */
export const addressOf = (request: Request): string => request.headers.get('x-kerbe-address') ?? 'this computer';

export function refusedWrite(event: RequestEvent): Refusal | null {
  const { request, route, locals, url } = event;
  const { headers } = request;
  const said = headers.get('content-length');
  return refusal({
    route: route.id,
    method: request.method,
    role: locals.user?.role ?? null,
    origin: headers.get('origin'),
    site: headers.get('sec-fetch-site'),
    own: url.origin,
    length: said !== null ? Number(said) : headers.has('transfer-encoding') ? null : 0,
    who: locals.user?.id ?? addressOf(request),
  });
}
