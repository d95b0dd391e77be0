import { describe, expect, it } from 'vitest';
import { defectCounts, patternsOf, type DefectRun } from './index.ts';

const end = (hours: number) => ({ id: 'end6', name: '6 mm end mill', hours });
const vee = { id: 'v60', name: '60° V', hours: 1 };
const run = (kind: string, bits: DefectRun['bits'], material = 'oak'): DefectRun => ({ kinds: [kind], bits, material });

describe('what the runs with a defect have in common', () => {
  it('nothing is said of none, one or two', () => {
    expect(patternsOf([])).toEqual([]);
    expect(patternsOf([run('fuzzy', [end(9)])])).toEqual([]);
    expect(patternsOf([run('fuzzy', [end(9)]), run('fuzzy', [end(8)])])).toEqual([]);
  });
  it('four of the last five: this bit, over the fewest hours it had then', () => {
    const runs = [run('fuzzy', [end(8.5), vee]), run('fuzzy', [end(7)]), run('fuzzy', [vee], 'pine'), run('fuzzy', [end(6.2)]), run('fuzzy', [end(6.1)])];
    expect(patternsOf(runs)).toEqual([{ kind: 'fuzzy', count: 4, of: 5, common: { bit: 'end6', name: '6 mm end mill', hours: 6.1 } }]);
  });
  it('three of five are too few; older runs than the last five do not count', () => {
    const three = [run('fuzzy', [end(8)]), run('fuzzy', [end(7)]), run('fuzzy', [vee], 'pine'), run('fuzzy', [], 'ash'), run('fuzzy', [end(6)])];
    expect(patternsOf(three)).toEqual([]);
    const older = [...Array(5)].map(() => run('fuzzy', [end(2)]));
    expect(patternsOf([...three, ...older])).toEqual([]);
  });
  it('where no bit is shared, the material they are of', () => {
    const runs = [run('chipped', [vee], 'oak'), run('chipped', [end(1)], 'oak'), run('chipped', [], 'oak')];
    expect(patternsOf(runs)).toEqual([{ kind: 'chipped', count: 3, of: 3, common: { material: 'oak' } }]);
    expect(patternsOf(runs.map((one) => ({ ...one, material: '' })))).toEqual([]);
  });
  it('each kind by itself; a run with two of them counts for both', () => {
    const both: DefectRun = { kinds: ['fuzzy', 'burned'], bits: [end(5)], material: 'oak' };
    expect(patternsOf([both, both, both]).map(({ kind }) => kind)).toEqual(['burned', 'fuzzy']);
    expect(defectCounts([both, run('burned', [])])).toEqual([
      { kind: 'burned', count: 2 },
      { kind: 'fuzzy', count: 1 },
    ]);
  });
});
