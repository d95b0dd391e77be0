// Bundles a Node entry written in TypeScript, with the workspaces it imports, in about a second.
// Real dependencies stay in node_modules.
import { existsSync, readdirSync, renameSync, statSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = dirname(dirname(fileURLToPath(import.meta.url)));

/** Time of the newest source file below the given folders. */
export function newest(folders) {
  let time = 0;
  const visit = (path) => {
    for (const entry of readdirSync(path, { withFileTypes: true })) {
      if (['node_modules', 'dist', 'build', '.svelte-kit'].includes(entry.name)) continue;
      const full = join(path, entry.name);
      if (entry.isDirectory()) visit(full);
      else if (!entry.name.includes('.test.')) time = Math.max(time, statSync(full).mtimeMs);
    }
  };
  for (const folder of folders) visit(join(root, folder));
  return time;
}

/** Writes `output` from `entry` unless it is newer than every source below `folders`; `split`: what is loaded on demand lies beside it in files of its own. */
export async function bundle(entry, output, folders, { split = false } = {}) {
  const out = join(root, output);
  if (existsSync(out) && statSync(out).mtimeMs > newest(folders)) return out;
  const { build } = await import('rolldown');
  // Under a name of its own until it is whole: others may make the same at this moment, or start it.
  const fresh = `${basename(out, '.mjs')}.${process.pid}.mjs`;
  await build({
    input: join(root, entry),
    platform: 'node',
    external: (id) => !id.startsWith('.') && !id.startsWith('/') && !id.startsWith('@kerbe/'),
    output: { dir: dirname(out), entryFileNames: fresh, chunkFileNames: `${basename(out, '.mjs')}-[name]-[hash].mjs`, format: 'esm', codeSplitting: split },
    logLevel: 'warn',
  });
  renameSync(join(dirname(out), fresh), out);
  return out;
}

export const bundles = {
  cli: () => bundle('cli/src/main.ts', 'cli/dist/kerbe.mjs', ['cli/src', 'core/src', 'files/src'], { split: true }),
  within: () => bundle('cli/src/within.ts', 'cli/dist/within.mjs', ['cli/src', 'files/src']),
  machine: () => bundle('machines/src/main.ts', 'machines/dist/machine.mjs', ['machines/src', 'core/src']),
  plain: () => bundle('machines/src/plain/main.ts', 'machines/dist/plain.mjs', ['machines/src', 'core/src']),
  agent: () => bundle('agent/src/main.ts', 'agent/dist/agent.mjs', ['agent/src', 'core/src']),
  door: () => bundle('app/src/door/main.ts', 'app/dist/door.mjs', ['app/src/door']),
  heavy: () => bundle('app/src/lib/server/heavy.child.ts', 'app/dist/heavy.mjs', ['app/src/lib/server', 'core/src', 'files/src']),
};
