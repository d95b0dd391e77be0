/** Labels stand in one list an area, so that screens, palette and tests call a thing by the same words. */
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { parse, type AST } from 'svelte/compiler';
import { describe, expect, it } from 'vitest';

const here = import.meta.dirname;
const app = join(here, '../..');
const lists = import.meta.glob<Record<string, Record<string, string | ((...said: string[]) => string)>>>('./*.ts', { eager: true });
/** Every label as it reads, with a dot where a name or a figure is filled in. */
const labels = Object.entries(lists).flatMap(([file, exported]) =>
  Object.values(exported).flatMap((list) =>
    Object.entries(list).map(([key, label]) => ({
      file: file.slice(2),
      key,
      text: typeof label === 'string' ? label : label(...new Array<string>(label.length).fill('·')),
    })),
  ),
);

/** Attributes of markup that people read, and elements that are a label as a whole. */
const SAID = new Set(['label', 'aria-label', 'placeholder', 'title', 'tip', 'hint', 'alt']);
const LABELS = new Set(['button', 'h1', 'h2', 'h3', 'h4', 'legend', 'summary', 'option', 'th', 'label']);
const isWords = (text: string) => text.replace(/[^A-Za-z]/g, '').length > 2;

/** Words that stand in the markup of a component itself where a label is meant. */
function strays(markup: string): string[] {
  const found: string[] = [];
  const visit = (node: AST.Fragment | AST.Fragment['nodes'][number], labelled: boolean): void => {
    if (node.type === 'Text') {
      if (labelled && isWords(node.data)) found.push(node.data.trim());
    } else if (node.type === 'Fragment') node.nodes.forEach((child) => visit(child, labelled));
    else {
      if ('attributes' in node)
        for (const attribute of node.attributes)
          if (attribute.type === 'Attribute' && SAID.has(attribute.name) && Array.isArray(attribute.value))
            for (const part of attribute.value) if (part.type === 'Text' && isWords(part.data)) found.push(part.data);
      const is = node.type === 'RegularElement' ? LABELS.has(node.name) : node.type.endsWith('Block') && labelled;
      for (const inside of Object.values(node) as unknown[])
        if (inside && typeof inside === 'object' && (inside as AST.Fragment).type === 'Fragment') visit(inside as AST.Fragment, is);
    }
  };
  visit(parse(markup, { modern: true }).fragment, false);
  return found;
}

describe('the lists of labels', () => {
  it('say each thing once', () => {
    expect(labels.length).toBeGreaterThan(1000);
    const places = new Map<string, string[]>();
    for (const { text, file, key } of labels) places.set(text, [...(places.get(text) ?? []), `${file}: ${key}`]);
    expect([...places].filter(([, at]) => at.length > 1)).toEqual([]);
  });

  it('have no loose ends: no space around a label, no full stop after a few words', () => {
    const bad = labels.filter(({ text }) => text !== text.trim() || /\s{2}/.test(text) || (/\.$/.test(text) && text.split(' ').length < 4));
    expect(bad).toEqual([]);
  });

  it('hold every label that is words alone: none stands in a component', () => {
    // It finds one where there is one.
    expect(strays('<button title="Look">Cut it</button><p>Prose</p>')).toEqual(['Look', 'Cut it']);
    const components = readdirSync(app, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.svelte'));
    expect(components.length).toBeGreaterThan(100);
    const bad = components.flatMap((name) => strays(readFileSync(join(app, name), 'utf8')).map((text) => `${name}: ${text}`));
    expect(bad).toEqual([]);
  });
});
