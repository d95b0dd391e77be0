/**
 * No figure of a cut is there for show: every field the document has for a cut is changed alone, in a
 * job where it matters, and the toolpath must change with it. And the same job gives the same toolpath.
 */
import { describe, expect, it } from 'vitest';
import { Cut, type CutKind } from '../job/index.ts';
import { CHANGES, jobOf, pixelsOf } from '../reference/every-cut.ts';
import { fontOf } from '../reference/fixtures.ts';
import { planJob } from './index.ts';

/** Told to the spindle and to people, not to the axes; the order of pieces, and whether it is cut at all: artwork.test.ts. */
const NOT_IN_THE_PATH = ['id', 'kind', 'name', 'speed', 'order', 'sequence', 'off', 'group'];

const pathOf = async (kind: CutKind, cut: object) => {
  const { path } = (await planJob(jobOf(kind, cut), { fonts: fontOf, pictures: pixelsOf })).cuts[0];
  // What is switched on the way is part of it.
  return [...[path.kind, path.x, path.y, path.z, path.feed, path.power ?? []].map((values) => Array.from(values)), path.events ?? []];
};

describe.each(Object.keys(CHANGES) as CutKind[])('%s', (kind) => {
  it('every field is spoken of here', () => {
    const { shape } = Cut.options.find((option) => option.shape.kind.value === kind)!;
    expect(Object.keys(CHANGES[kind]).sort()).toEqual(
      Object.keys(shape)
        .filter((key) => !NOT_IN_THE_PATH.includes(key))
        .sort(),
    );
  });
  it.each(Object.entries(CHANGES[kind]).filter(([, { to }]) => Object.keys(to).length > 0))('%s changes the toolpath', async (_field, change) => {
    const before = await pathOf(kind, change.with ?? {});
    expect((before[0] as number[]).length).toBeGreaterThan(0);
    expect(await pathOf(kind, { ...change.with, ...change.to })).not.toEqual(before);
  });
  it('the same job gives the same toolpath', async () => expect(await pathOf(kind, {})).toEqual(await pathOf(kind, {})));
});
