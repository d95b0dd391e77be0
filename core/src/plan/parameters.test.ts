/**
 * No figure of a cut is there for show: every field the document has for a cut is changed alone, in a
 * job where it matters, and the toolpath must change with it. And the same job gives the same toolpath.
 */
import { describe, expect, it } from 'vitest';
import { ArtCache } from '../artwork/index.ts';
import { Cut, type CutKind, type Job } from '../job/index.ts';
import { CHANGES, jobOf, pixelsOf } from '../reference/every-cut.ts';
import { fontOf } from '../reference/fixtures.ts';
import { planJob } from './index.ts';

/** Told to the spindle and to people, not to the axes; the order of pieces, and whether it is cut at all: artwork.test.ts. */
const NOT_IN_THE_PATH = ['id', 'kind', 'name', 'speed', 'order', 'sequence', 'off', 'group'];

const planned = async (job: Job, art?: ArtCache) => {
  const { cuts, findings } = await planJob(job, { fonts: fontOf, pictures: pixelsOf, art });
  const { path } = cuts[0];
  // What is switched on the way is part of it.
  return {
    path: [...[path.kind, path.x, path.y, path.z, path.feed, path.power ?? []].map((values) => Array.from(values)), path.events ?? []],
    findings,
  };
};
const pathOf = async (kind: CutKind, cut: object) => (await planned(jobOf(kind, cut))).path;

describe.each(Object.keys(CHANGES) as CutKind[])('%s', (kind) => {
  it('every field is spoken of here', () => {
    const { shape } = Cut.options.find((option) => option.shape.kind.value === kind)!;
    expect(Object.keys(CHANGES[kind]).sort()).toEqual(
      Object.keys(shape)
        .filter((key) => !NOT_IN_THE_PATH.includes(key))
        .sort(),
    );
  });
  it.each(Object.entries(CHANGES[kind]).filter(([, { to }]) => Object.keys(to).length > 0))(
    '%s changes the toolpath, and what is kept of the plan before changes nothing',
    async (_field, change) => {
      const job = jobOf(kind, change.with ?? {});
      const art = new ArtCache();
      const before = await planned(job, art);
      expect((before.path[0] as number[]).length).toBeGreaterThan(0);
      const changed = jobOf(kind, { ...change.with, ...change.to });
      const after = await planned(changed);
      expect(after.path).not.toEqual(before.path);
      // The same drawn things, as on the screen: what was worked out of them is used again where it may be.
      expect(await planned({ ...changed, items: job.items }, art)).toEqual(after);
      expect(await planned(job, art)).toEqual(before);
    },
  );
  it('the same job gives the same toolpath', async () => expect(await pathOf(kind, {})).toEqual(await pathOf(kind, {})));
});
