/** A cut added later has the same figures as one a piece begins with. */
import { describe, expect, it } from 'vitest';
import { nozzleFor } from '../bits/nozzle.ts';
import { USUAL, usualBit, usualHead } from '../bits/usual.ts';
import { bitsFor, kindsOf } from '../cuts/index.ts';
import { suggestFeeds } from '../feeds/index.ts';
import { Cut, makeItem } from '../job/index.ts';
import { PROCESS_NAMES } from '../process/index.ts';
import { beginPiece } from './begin.ts';
import { asOfToday, beginCut, cutOutSign, turnFeeds, withBit } from './begin-cut.ts';

const router = beginPiece({ piece: 'blank', board: { width: 200, height: 100, thickness: 18, material: 'oak' }, units: 'mm' }, USUAL);

describe('a cut that is added', () => {
  it('has the feeds suggested for its bit, wood and machine, and a pass no deeper than they allow', () => {
    const bit = usualBit('end6');
    const cut = beginCut(router, bit, { kind: 'pocket', id: 'p' });
    const { feed, plunge, speed, depthPerPass } = suggestFeeds(bit, 'oak', router.machine, 0.4 * bit.diameter);
    expect(cut).toMatchObject({ kind: 'pocket', tool: 'end6', on: 'art', feed, plunge, speed, depthPerPass });
  });
  it('an inch shop gets sixteenths and whole inches a minute: a pocket of 1/8 in is one pass of a 1/4 in bit, not two', () => {
    const cut = beginCut({ ...router, units: 'in' }, usualBit('end6'), { kind: 'pocket', id: 'p', on: 'art' });
    expect(cut.feed / 25.4).toBeCloseTo(Math.round(cut.feed / 25.4), 9);
    expect((cut as { depthPerPass: number }).depthPerPass / (25.4 / 16)).toBeCloseTo(2, 9);
  });
  it('a pass is never deeper than the board', () => {
    const thin = { ...router, board: { ...router.board, thickness: 1.5 } };
    expect(beginCut(thin, usualBit('end6'), { kind: 'profile', id: 'p', on: 'outline' })).toMatchObject({ depthPerPass: 1.5 });
  });
  it('a V that could go through the board stops at a floor with half of it left; one that cannot has none', () => {
    const thin = { ...router, board: { ...router.board, thickness: 10 } };
    expect(beginCut(thin, usualBit('v60'), { kind: 'vcarve', id: 'v' })).toMatchObject({ floorDepth: 5 });
    expect(beginCut(router, usualBit('v90'), { kind: 'vcarve', id: 'v' })).not.toHaveProperty('floorDepth');
  });
  it('a second profile is for the openings, where there are holes', () => {
    const six = usualBit('end6');
    const first = beginCut(router, six, { kind: 'profile', id: 'one' });
    const hole = makeItem({ kind: 'ellipse', id: 'hole', x: 50, y: 50, width: 20, height: 20 });
    const cut = { ...router, cuts: { one: first } };
    expect(first).toMatchObject({ on: 'outline', side: 'outside' });
    expect(beginCut(cut, six, { kind: 'profile', id: 'two' })).toMatchObject({ on: 'outline' });
    expect(beginCut({ ...cut, items: { hole } }, six, { kind: 'profile', id: 'two' })).toMatchObject({ on: 'holes', side: 'inside' });
    expect(beginCut({ ...router, items: { hole } }, six, { kind: 'profile', id: 'two' })).toMatchObject({ on: 'outline' });
  });
  it('what is set of it stays as it was set', () => {
    expect(beginCut(router, usualBit('v60'), { kind: 'vcarve', id: 'v', on: 'words', feed: 777 }).feed).toBe(777);
  });
  it.each(PROCESS_NAMES)('every kind of cut on a %s is one that can be read', (process) => {
    const bits = [...USUAL, nozzleFor(3), usualHead()];
    for (const kind of kindsOf(process)) {
      const [bit, second] = bitsFor(kind, bits);
      const cut = beginCut({ ...router, process }, bit, { kind, id: 'one' }, second);
      expect(Cut.parse(cut)).toEqual(cut);
      if (process !== 'router') expect(cut.speed).toBe(0);
    }
  });
});

describe('a cut given another bit', () => {
  const [six, three] = [usualBit('end6'), usualBit('end3')];
  it('takes over what is suggested for it, and keeps what somebody set', () => {
    const cut = beginCut(router, six, { kind: 'pocket', id: 'p', depth: 4.2 });
    expect(withBit(router, cut, six, three)).toEqual(beginCut(router, three, { kind: 'pocket', id: 'p', depth: 4.2 }));
    const own = { ...cut, feed: 1111 };
    expect(withBit(router, own, six, three)).toMatchObject({
      feed: 1111,
      tool: 'end3',
      depth: 4.2,
      plunge: beginCut(router, three, { kind: 'pocket', id: 'q' }).plunge,
    });
  });
  it('there and back again is the cut it was', () => {
    const cut = beginCut(router, six, { kind: 'profile', id: 'p' });
    expect(withBit(router, withBit(router, cut, six, three), three, six)).toEqual(cut);
  });
});

describe('the same again', () => {
  const six = usualBit('end6');
  const pocket = Cut.parse({ ...beginCut(router, six, { kind: 'pocket', id: 'p' }), feed: 777, depth: 4.5 });
  const job = { ...router, tools: { six: { ...six, id: 'six', crib: 'end6' } }, cuts: { p: { ...pocket, tool: 'six' } }, cutOrder: ['p'] };
  it('as one would plan it today: the bit as the crib has it, its figures by the shop’s preset; what is drawn and how deep stays', () => {
    const sharpened = { ...six, diameter: 6.3, feeds: { oak: { feed: 1800, plunge: 500, speed: 17_000, depthPerPass: 2, source: 'trial board' } } };
    const today = asOfToday(job, [sharpened]);
    expect(today.tools.six).toMatchObject({ id: 'six', crib: 'end6', diameter: 6.3 });
    expect(today.cuts.p).toMatchObject({ tool: 'six', feed: 1800, plunge: 500, speed: 17_000, depthPerPass: 2, depth: 4.5 });
    expect([today.items, today.board]).toEqual([job.items, job.board]);
  });
  it('without that bit in the crib it is what it was, with what is suggested', () => {
    const today = asOfToday(job, []);
    expect(today.tools).toEqual(job.tools);
    expect(today.cuts.p.feed).toBe(beginCut(router, six, { kind: 'pocket', id: 'p' }).feed);
    expect(asOfToday({ ...job, cuts: {}, cutOrder: [] }, []).cuts).toEqual({});
  });
  it('a torch and a laser go by their chart and their presets', () => {
    const nozzle = nozzleFor(3)!;
    const plate = beginPiece({ piece: 'plate', board: { width: 300, height: 200, thickness: 3, material: 'mild steel' }, units: 'mm' }, [nozzle]);
    const slow = { ...plate, cuts: Object.fromEntries(Object.entries(plate.cuts).map(([id, cut]) => [id, { ...cut, feed: 55 }])) };
    expect(Object.values(asOfToday(slow, []).cuts).map(({ feed }) => feed)).toEqual(Object.values(plate.cuts).map(({ feed }) => feed));
  });
});

it('feeds turned at the machine are turned in every cut, going down too, to whole millimetres or inches a minute', () => {
  const bit = usualBit('end6');
  const two = { a: beginCut(router, bit, { kind: 'pocket', id: 'a' }), b: beginCut(router, bit, { kind: 'profile', id: 'b', on: 'outline' }) };
  const before = structuredClone(two);
  turnFeeds({ cuts: two, units: 'mm' }, 1.15);
  for (const id of ['a', 'b'] as const) {
    expect(two[id]).toEqual({ ...before[id], feed: Math.round(1.15 * before[id].feed), plunge: Math.round(1.15 * before[id].plunge) });
  }
  const inches = { a: { ...before.a, feed: 25.4 * 60, plunge: 25.4 * 20 } };
  turnFeeds({ cuts: inches, units: 'in' }, 1.13);
  expect([inches.a.feed / 25.4, inches.a.plunge / 25.4].map((rate) => Math.round(1e9 * rate) / 1e9)).toEqual([68, 23]);
});

describe('the cut that cuts the sign out', () => {
  it.each(PROCESS_NAMES)('on a %s: begun once the sign has an outline, and only once', (process) => {
    const piece = ({ router: 'blank', torch: 'drawn', laser: 'sheet' } as const)[process];
    const job = beginPiece({ piece, board: { width: 200, height: 100, thickness: 3, material: 'oak' }, units: 'mm' }, USUAL);
    expect(cutOutSign(job)).toBeNull();
    const edged = { ...job, outline: 'edge' };
    const cut = cutOutSign(edged);
    // A torch cuts by what lies in what: it needs no outline.
    if (process === 'torch') return expect(cut).toBeNull();
    if (process === 'laser') edged.tools = { head1: usualHead() };
    const made = cutOutSign(edged)!;
    expect(made.on).toBe('outline');
    expect(cutOutSign({ ...edged, cuts: { [made.id]: made } })).toBeNull();
  });
  it('takes a bit that reaches through the board', () => {
    expect(cutOutSign({ ...router, outline: 'edge' })!.tool).toBe('end6');
    expect(cutOutSign({ ...router, outline: 'edge', tools: { end3: usualBit('end3') } })!.tool).toBe('end3');
  });
});
