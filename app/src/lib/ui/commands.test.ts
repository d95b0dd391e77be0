/** Commands by key: what is shown is what is listened for, and a field that is typed in keeps its keys. */
import { describe, expect, it, vi } from 'vitest';
import { commandsOf, type AtHand } from '../job/commands';
import { bindingsOf, shownKeys, type Command } from './commands';

/** A key pressed beside any field, in one that is typed in, or in one whose typing was taken. */
const press = (inField: boolean, settled = false) =>
  ({
    target: { closest: (what: string) => (inField && !(settled && what.includes(':not([data-settled])')) ? {} : null) },
    preventDefault: vi.fn(),
  }) as unknown as KeyboardEvent & { preventDefault: ReturnType<typeof vi.fn> };

describe('what people look for', () => {
  const found = commandsOf({ session: { job: { units: 'mm' } }, editor: {}, view: {}, proof: {}, machine: {} } as unknown as AtHand);
  it.each(['diameter', 'simulate', 'preview', 'toolpath', 'passes', 'font', 'zero', 'origin', 'kerf', 'g-code', 'duplicate', 'svg'])(
    '%s finds a command',
    (word) => expect(found.filter(({ label, words = [] }) => [label, ...words].some((one) => one.toLowerCase().includes(word))).length).toBeGreaterThan(0),
  );
  it('no two commands are called the same, or have the same keys', () => {
    const twice = (list: (string | undefined)[]) => list.filter((one, k) => one !== undefined && list.indexOf(one) !== k);
    expect(twice(found.map(({ label }) => label))).toEqual([]);
    expect(twice(found.flatMap(({ bind, also = [] }) => [bind, ...also]))).toEqual([]);
  });
});

describe('commands', () => {
  it.each([
    ['$mod+k', 'Ctrl K'],
    ['$mod+Shift+z', 'Ctrl Shift Z'],
    ['Alt+Digit3', 'Alt 3'],
    ['Delete', 'Delete'],
    [']', ']'],
    ['p', 'P'],
    ['Shift+?', '?'],
  ])('%s is shown as %s', (bind, shown) => expect(shownKeys({ bind })).toBe(shown));
  it('without keys none are shown, with a hint that is', () => {
    expect(shownKeys({})).toBeUndefined();
    expect(shownKeys({ hint: 'Space, on Run' })).toBe('Space, on Run');
  });
  it('run by their keys, but not while a person types - save those that work always', () => {
    const ran: string[] = [];
    const command = (id: string, more: Partial<Command>): Command => ({ id, label: id, run: () => void ran.push(id), ...more });
    const keys = bindingsOf([command('undo', { bind: '$mod+z', also: ['$mod+y'] }), command('save', { bind: '$mod+s', always: true }), command('plan', {})]);
    expect(Object.keys(keys)).toEqual(['$mod+z', '$mod+y', '$mod+s']);
    const typed = press(true);
    keys['$mod+z'](typed);
    expect(ran).toEqual([]);
    // The field undoes its own typing.
    expect(typed.preventDefault).not.toHaveBeenCalled();
    const saved = press(true);
    keys['$mod+s'](saved);
    expect(saved.preventDefault).toHaveBeenCalled();
    keys['$mod+z'](press(false));
    keys['$mod+y'](press(false));
    expect(ran).toEqual(['save', 'undo', 'undo']);
  });
  it('undo works in a field whose typing was taken; what begins a tool by one letter does not', () => {
    const ran: string[] = [];
    const command = (id: string, bind: string, settled?: boolean): Command => ({ id, label: id, bind, settled, run: () => void ran.push(id) });
    const keys = bindingsOf([command('undo', '$mod+z', true), command('pen', 'p')]);
    for (const event of [press(true, false), press(true, true)]) {
      keys['$mod+z'](event);
      keys['p'](event);
    }
    expect(ran).toEqual(['undo']);
  });
});
