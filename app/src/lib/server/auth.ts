/** Accounts, sessions and roles, by better-auth on the same database. Its own web routes are not served: all goes through pages and rules of ours. */
import { betterAuth } from 'better-auth';
import { sql } from 'kysely';
import { getMigrations } from 'better-auth/db/migration';
import { admin } from 'better-auth/plugins/admin';
import { createAccessControl } from 'better-auth/plugins/access';
import { adminAc, defaultStatements, userAc } from 'better-auth/plugins/admin/access';
import { sveltekitCookies } from 'better-auth/svelte-kit';
import { getRequestEvent } from '$app/server';
import { env } from '$env/dynamic/private';
import { connection } from './db';
import { hashInTurn, verifyInTurn } from './passwords';

/** A watcher sees everything and moves nothing. */
export type Role = 'owner' | 'operator' | 'watcher';

const access = createAccessControl(defaultStatements);

function make() {
  return betterAuth({
    baseURL: env.ORIGIN,
    secret: env.AUTH_SECRET,
    database: { db: connection().db, type: 'postgres' },
    emailAndPassword: { enabled: true, disableSignUp: true, minPasswordLength: 10, password: { hash: hashInTurn, verify: verifyInTurn } },
    session: { expiresIn: 60 * 60 * 24 * 14 },
    telemetry: { enabled: false },
    advanced: { ipAddress: { ipAddressHeaders: ['x-kerbe-address'] } },
    plugins: [
      admin({
        defaultRole: 'operator',
        adminRoles: ['owner'],
        roles: {
          owner: access.newRole(adminAc.statements),
          operator: access.newRole(userAc.statements),
          watcher: access.newRole(userAc.statements),
        },
      }),
      sveltekitCookies(getRequestEvent),
    ],
  });
}

let made: ReturnType<typeof make> | null = null;
export const auth = (): ReturnType<typeof make> => (made ??= make());

export async function migrateAuth(): Promise<void> {
  const { runMigrations } = await getMigrations(auth().options);
  await runMigrations();
  // Names are how people know each other; no two are the same.
  await sql`create unique index if not exists user_name on "user" (lower(name))`.execute(connection().db);
}
