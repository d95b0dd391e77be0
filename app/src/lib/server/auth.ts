/** Accounts, sessions and roles, by better-auth on the same database. */
import { betterAuth } from 'better-auth';
import { getMigrations } from 'better-auth/db/migration';
import { admin } from 'better-auth/plugins/admin';
import { createAccessControl } from 'better-auth/plugins/access';
import { adminAc, defaultStatements, userAc } from 'better-auth/plugins/admin/access';
import { sveltekitCookies } from 'better-auth/svelte-kit';
import { getRequestEvent } from '$app/server';
import { env } from '$env/dynamic/private';
import { connection } from './db';

/** A watcher sees everything and moves nothing. */
export type Role = 'owner' | 'operator' | 'watcher';

const access = createAccessControl(defaultStatements);

function make() {
  return betterAuth({
    baseURL: env.ORIGIN,
    secret: env.AUTH_SECRET,
    database: { db: connection().db, type: 'postgres' },
    emailAndPassword: { enabled: true, disableSignUp: true, minPasswordLength: 10 },
    session: { expiresIn: 60 * 60 * 24 * 14 },
    telemetry: { enabled: false },
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
}
