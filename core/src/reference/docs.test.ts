/** What the documents name is there: a tour that leads to a file that was moved is worse than none. */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { expect, it } from 'vitest';

const ROOT = new URL('../../../', import.meta.url);
const documents = [
  'README.md',
  ...readdirSync(new URL('docs/', ROOT))
    .filter((name) => name.endsWith('.md'))
    .map((name) => `docs/${name}`),
];

it.each(documents)('every path that %s names from the root is a file or folder', (name) => {
  const text = readFileSync(new URL(name, ROOT), 'utf8');
  const named = [...text.matchAll(/`((?:(?:app|agent|cli|core|files|machines)\/src|docs|scripts)\/[\w./[\]+-]+)`/g)].map(([, path]) => path);
  expect(
    named.filter(
      (path) =>
        !existsSync(
          new URL(
            path.replace(/[[\]]/g, (c) => (c === '[' ? '%5B' : '%5D')),
            ROOT,
          ),
        ),
    ),
  ).toEqual([]);
});

it('every link of a document leads somewhere', () => {
  const broken = documents.flatMap((name) => {
    const here = new URL(name, ROOT);
    return [...readFileSync(here, 'utf8').matchAll(/\]\((?!https?:|#)([^)#\s]+)[^)]*\)/g)].map(([, to]) => to).filter((to) => !existsSync(new URL(to, here)));
  });
  expect(broken).toEqual([]);
});
