/**
 * Who may write where: every writing route with its method and the least role, looked up before the
 * route is reached. A route that is not here takes nothing.
 */
import type { Role } from './auth';

type Least = Role | 'anybody';

export const WRITES: Record<string, Partial<Record<'POST' | 'PUT' | 'PATCH' | 'DELETE', Least>>> = {
  // Form actions.
  '/': { POST: 'operator' },
  '/people': { POST: 'owner' },
  '/sign-in': { POST: 'anybody' },
  '/api/jobs': { POST: 'operator' },
  '/api/jobs/[id]': { PUT: 'operator' },
  '/api/jobs/[id]/files': { POST: 'operator' },
  '/api/jobs/[id]/release': { POST: 'owner' },
  '/api/bits': { POST: 'operator', DELETE: 'operator' },
  '/api/faces': { POST: 'operator' },
  '/api/templates': { POST: 'operator', DELETE: 'operator' },
  '/api/runs/[id]': { PATCH: 'operator' },
  '/api/runs/[id]/photo': { POST: 'operator' },
  '/api/machines': { POST: 'owner' },
  '/api/machines/[id]': { POST: 'operator', PUT: 'owner', DELETE: 'owner' },
  // A watcher holds and stops: each command has its own rule there.
  '/api/machine': { POST: 'watcher' },
  // Whoever practises keeps how it went.
  '/api/exercises': { POST: 'watcher' },
};

const RANK: Record<Least, number> = { anybody: 0, watcher: 1, operator: 2, owner: 3 };
const WHY: Record<Role, string> = {
  owner: 'Only the owner may do that. Ask them to look at it.',
  operator: 'You may watch, hold and stop. To change anything an owner gives you another role.',
  watcher: 'Sign in first.',
};

/** Why this person may not write there, or null. `route`: the pattern of the route; null for none. */
export function refusedWrite(route: string | null, method: string, role: Role | null): string | null {
  if (method === 'GET' || method === 'HEAD' || method === 'OPTIONS') return null;
  const least = route === null ? undefined : WRITES[route]?.[method as 'POST'];
  if (least === undefined) return 'Nothing can be written there.';
  if (RANK[role ?? 'anybody'] >= RANK[least]) return null;
  return WHY[least as Role];
}
