/** The shape of the house: no two files and no two rooms of the core import each other, round however many corners. */
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const HERE = fileURLToPath(new URL('.', import.meta.url));
const ROOT = join(HERE, '../..');

/** Sources under a folder: what imports what, by path from the root of the repository. Tests stand outside the house. */
function importsOf(folder: string): Map<string, string[]> {
  const files = readdirSync(join(ROOT, folder), { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && /\.(ts|svelte)$/.test(entry.name) && !/\.(test|spec|setup|d)\.ts$/.test(entry.name))
    .map((entry) => join(entry.parentPath, entry.name))
    .filter((file) => !/node_modules|\/dist\/|\/reference\//.test(file));
  const known = new Set(files);
  /** The file an import means: the application leaves endings away, and calls its library by name. */
  const meant = (from: string, named: string): string[] => {
    const path = named.startsWith('$lib/') ? join(ROOT, 'app/src/lib', named.slice(5)) : join(dirname(from), named);
    return [path, `${path}.ts`, join(path, 'index.ts')].filter((one) => known.has(one)).slice(0, 1);
  };
  return new Map(
    files.map((file) => [
      relative(ROOT, file),
      [...readFileSync(file, 'utf8').matchAll(/(?:from|import\(|import) ?'((?:\.|\$lib\/)[^']+)'/g)]
        .flatMap(([, named]) => meant(file, named))
        .map((to) => relative(ROOT, to)),
    ]),
  );
}

/** Things that reach each other, as lists (Tarjan's strongly connected components). */
function circles(edges: ReadonlyMap<string, readonly string[]>): string[][] {
  const number = new Map<string, number>();
  const low = new Map<string, number>();
  const stack: string[] = [];
  const found: string[][] = [];
  const visit = (at: string) => {
    number.set(at, number.size);
    low.set(at, number.get(at)!);
    stack.push(at);
    for (const to of edges.get(at) ?? []) {
      if (!number.has(to)) visit(to);
      if (stack.includes(to)) low.set(at, Math.min(low.get(at)!, low.get(to)!));
    }
    if (low.get(at) !== number.get(at)) return;
    const circle = stack.splice(stack.indexOf(at));
    if (circle.length > 1 || edges.get(at)?.includes(at)) found.push(circle.sort());
  };
  for (const at of edges.keys()) if (!number.has(at)) visit(at);
  return found;
}

describe('the finder of circles', () => {
  it('finds one of two, one of three, one on itself, and none where there is none', () => {
    const of = (pairs: Record<string, string[]>) => circles(new Map(Object.entries(pairs)));
    expect(of({ a: ['b'], b: ['c'], c: [] })).toEqual([]);
    expect(of({ a: ['b'], b: ['a'], c: ['a'] })).toEqual([['a', 'b']]);
    expect(of({ a: ['b'], b: ['c'], c: ['a', 'd'], d: ['d'] })).toEqual([['d'], ['a', 'b', 'c']]);
  });
});

describe.each(['core/src', 'agent/src', 'machines/src', 'files/src', 'cli/src', 'app/src'])('%s', (folder) => {
  const files = importsOf(folder);
  it('was read', () => expect([...files.values()].flat().length).toBeGreaterThan(0));
  it('has no circle of files', () => expect(circles(files)).toEqual([]));
});

it('the rooms of the core stand on floors: none imports one that stands on it', () => {
  const room = (file: string) => file.split('/')[2];
  const rooms = new Map<string, string[]>();
  for (const [file, to] of importsOf('core/src'))
    rooms.set(room(file), [...(rooms.get(room(file)) ?? []), ...to.map(room).filter((one) => one !== room(file))]);
  expect(circles(rooms)).toEqual([]);
});
