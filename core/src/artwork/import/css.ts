/** Simple stylesheets of SVG: type, class, id and attribute selectors, descendants and children, by specificity. */
import { generate, parse, walk, type CssNode, type Selector } from 'css-tree';

/** An element as selectors see it. */
export interface Styled {
  tag: string;
  attributes: Record<string, string>;
}

interface Rule {
  parts: { combinator: ' ' | '>'; tests: ((element: Styled) => boolean)[] }[];
  weight: number;
  order: number;
  declarations: Record<string, string>;
}

export interface StyleSheet {
  rules: Rule[];
  /** Selectors that are not understood here. */
  skipped: string[];
}

export function readStyleSheet(text: string): StyleSheet {
  const sheet: StyleSheet = { rules: [], skipped: [] };
  const ast = parse(text, { parseCustomProperty: false });
  walk(ast, {
    visit: 'Rule',
    enter(node) {
      const declarations: Record<string, string> = {};
      walk(node.block, { visit: 'Declaration', enter: (d) => void (declarations[d.property] = generate(d.value)) });
      if (node.prelude.type !== 'SelectorList') return;
      node.prelude.children.forEach((selector: CssNode) => {
        const rule = selector.type === 'Selector' ? ruleOf(selector) : null;
        if (rule) sheet.rules.push({ ...rule, order: sheet.rules.length, declarations });
        else sheet.skipped.push(generate(selector));
      });
    },
  });
  sheet.rules.sort((a, b) => a.weight - b.weight || a.order - b.order);
  return sheet;
}

function ruleOf(selector: Selector): Pick<Rule, 'parts' | 'weight'> | null {
  const parts: Rule['parts'] = [{ combinator: ' ', tests: [] }];
  let weight = 0;
  let known = true;
  selector.children.forEach((node) => {
    const { tests } = parts[parts.length - 1];
    if (node.type === 'TypeSelector') {
      const name = node.name.replace(/^.*\|/, '');
      if (name !== '*') {
        tests.push(({ tag }) => tag === name);
        weight += 1;
      }
    } else if (node.type === 'ClassSelector') {
      tests.push(({ attributes }) => (attributes.class ?? '').split(/\s+/).includes(node.name));
      weight += 100;
    } else if (node.type === 'IdSelector') {
      tests.push(({ attributes }) => attributes.id === node.name);
      weight += 10_000;
    } else if (node.type === 'AttributeSelector' && (node.matcher === null || node.matcher === '=')) {
      const value = node.value === null ? null : node.value.type === 'String' ? node.value.value : node.value.name;
      const { name } = node.name;
      tests.push(({ attributes }) => (value === null ? name in attributes : attributes[name] === value));
      weight += 100;
    } else if (node.type === 'Combinator' && (node.name === ' ' || node.name === '>')) parts.push({ combinator: node.name, tests: [] });
    else known = false;
  });
  return known ? { parts, weight } : null;
}

/** Declarations that apply to the last element of a path from the root, weakest first merged into one. */
export function styleOf({ rules }: StyleSheet, path: readonly Styled[]): Record<string, string> {
  const style: Record<string, string> = {};
  for (const rule of rules) if (matches(rule.parts, path)) Object.assign(style, rule.declarations);
  return style;
}

function matches(parts: Rule['parts'], path: readonly Styled[]): boolean {
  const fits = (part: number, at: number): boolean => {
    if (!parts[part].tests.every((test) => test(path[at]))) return false;
    if (part === 0) return true;
    if (parts[part].combinator === '>') return at > 0 && fits(part - 1, at - 1);
    for (let k = at - 1; k >= 0; k--) if (fits(part - 1, k)) return true;
    return false;
  };
  return path.length > 0 && fits(parts.length - 1, path.length - 1);
}
