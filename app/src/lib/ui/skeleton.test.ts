/** The interface stands on Skeleton: no component brings styles of its own, no colour stands outside the theme. */
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';

const SRC = join(dirname(fileURLToPath(import.meta.url)), '../..');
const components = readdirSync(SRC, { recursive: true, withFileTypes: true })
  .filter((entry) => entry.isFile() && entry.name.endsWith('.svelte'))
  .map((entry) => relative(SRC, join(entry.parentPath, entry.name)))
  .map((path) => ({ path, text: readFileSync(join(SRC, path), 'utf8') }));

/** Paints a board may be filled with, and the marks of the proof: pictures of things, not parts of the interface. */
const PAINTED = ['lib/stages/proof/CarvedStage.svelte', 'lib/stages/proof/ProofCard.svelte'];

it('finds the components', () => expect(components.length).toBeGreaterThan(80));
it('no component has styles of its own', () => expect(components.filter(({ text }) => /^<style/m.test(text)).map(({ path }) => path)).toEqual([]));
it('no component names a colour', () =>
  expect(
    components
      .filter(({ path }) => !PAINTED.includes(path))
      .flatMap(({ path, text }) => [...text.matchAll(/(?:#(?:[0-9a-f]{3}|[0-9a-f]{6})\b(?![-\w]))|\brgba?\(\d/gi)].map(([colour]) => `${path}: ${colour}`)),
  ).toEqual([]));
it('every text field, choice and box to tick is Skeleton’s', () => {
  const bare = components.flatMap(({ path, text }) =>
    [...text.matchAll(/<(input|select|textarea)\b(?:=>|\{(?:[^{}]|\{[^{}]*\})*\}|[^<>{}])*>/g)]
      .filter(
        ([tag]) =>
          !/type="(file|hidden)"|\bhidden\b/.test(tag) &&
          !/\b(input|select|textarea|checkbox|radio)\b[^>]*?["']/.test(tag.match(/class=(?:"[^"]*"|\{[\s\S]*)/)?.[0] ?? ''),
      )
      .map(([tag]) => `${path}: ${tag.slice(0, 60)}`),
  );
  expect(bare).toEqual([]);
});
