// Writes licences/THIRD-PARTY.md: every package that ships, its version and licence, from node_modules.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './bundle.mjs';

const lock = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8'));
const rows = [];
for (const [path, entry] of Object.entries(lock.packages)) {
  if (!path.includes('node_modules/') || entry.dev || entry.link) continue;
  const file = join(root, path, 'package.json');
  if (!existsSync(file)) continue;
  const { name, version, license } = JSON.parse(readFileSync(file, 'utf8'));
  rows.push(`| ${name} | ${version} | ${typeof license === 'string' ? license : (license?.type ?? 'see its folder')} |`);
}
const text = `# Third-party notice

Kerbe ships or installs these packages. Their licence texts stand in their folders under
node_modules; those of the faces also in licences/faces (SIL Open Font License 1.1).

sharp decodes pictures on the server with libvips, which its platform packages (@img/sharp-*) bring
along as a shared library under LGPL-3.0-or-later; nothing of it is linked into Kerbe's own code.

| package | version | licence |
|---|---|---|
${[...new Set(rows)].sort().join('\n')}
`;
writeFileSync(join(root, 'licences/THIRD-PARTY.md'), text);
console.log(`licences/THIRD-PARTY.md: ${rows.length} packages`);
