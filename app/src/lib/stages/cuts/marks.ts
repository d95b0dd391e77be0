/** What the board shows of the cuts while they are worked on: their order, and the tabs of the open one. */
import { nearestOn } from '@kerbe/core/geometry/contour';
import type { Cut, Job } from '@kerbe/core/job';
import { worksOn } from '@kerbe/core/job/target';
import type { ArtEditor } from '$lib/art/editor.svelte';
import type { CutMarks } from '$lib/board/tools/cuts';
import type { Point } from '$lib/board/view';
import type { JobSession } from '$lib/job/session.svelte';
import { CUTS } from '$lib/labels/cuts';

type Tabbed = Extract<Cut, { tabsAt: unknown }>;
type Place = Tabbed['tabsAt'][number];
const hasTabs = (cut: Cut): cut is Tabbed => 'tabsAt' in cut;

export function marksOf(session: JobSession, editor: ArtEditor, opened: string | null): CutMarks {
  const { job, plan } = session;
  const open = opened && job.cuts[opened] ? opened : (job.cutOrder[0] ?? null);
  const views = new Map((plan?.cuts ?? []).map((cut) => [cut.id, cut]));
  const numbers = job.cutOrder.flatMap((id) => {
    const view = views.get(id);
    const first = view ? view.kind.findIndex((kind, i) => kind !== 0 && view.z[i] < 0) : -1;
    // One that is switched off begins nowhere.
    if (!view && job.cuts[id].off) return [];
    return { id, number: job.cutOrder.indexOf(id) + 1, at: (view && first >= 0 ? [view.x[first], view.y[first]] : [0, 0]) as Point };
  });
  const cut = open ? job.cuts[open] : undefined;
  const tabs = cut && hasTabs(cut) ? (views.get(cut.id)?.tabPoints ?? []) : [];
  const putTabs = (label: string, points: readonly Point[]) => {
    if (!cut || !hasTabs(cut)) return;
    const places = points.flatMap((point) => placeOf(job, editor, cut, point) ?? []);
    session.edit(label, (d) => {
      const draft = d.cuts[cut.id];
      if (hasTabs(draft)) draft.tabsAt = places;
    });
  };
  return {
    numbers,
    open,
    pieces: (cut && views.get(cut.id)?.pieces) || [],
    tabs,
    spots: (cut ? (views.get(cut.id)?.spots ?? []) : []).map(([x, y]): Point => [x, y]),
    reorder(from, to) {
      const order = [...job.cutOrder];
      const [moved, onto] = [numbers[from].id, order.indexOf(numbers[to].id)];
      order.splice(order.indexOf(moved), 1);
      order.splice(onto, 0, moved);
      session.edit(CUTS.orderOfCuts, (d) => void (d.cutOrder = order));
    },
    // One tab pulled makes all of them the person's own: none moves by itself afterwards.
    moveTab: (index, to) =>
      putTabs(
        'Move a tab',
        tabs.map((point, k) => (k === index ? to : point)),
      ),
    removeTab: (index) =>
      putTabs(
        'Remove a tab',
        tabs.filter((_, k) => k !== index),
      ),
  };
}

/** A point as a place within the box of the thing whose edge is nearest, so that it stays when the thing changes. */
function placeOf(job: Job, editor: ArtEditor, cut: Tabbed, [x, y]: Point): Place | null {
  let best: { id: string; distance: number } | null = null;
  for (const [id, { contours }] of editor.drawing.things) {
    if (!worksOn(job, cut, job.items[id]) && !(cut.on === 'outline' && job.outline === null)) continue;
    for (const xy of contours) {
      const { distance } = nearestOn(xy, x, y);
      if (!best || distance < best.distance) best = { id, distance };
    }
  }
  if (!best) return null;
  const { minX, minY, maxX, maxY } = editor.drawing.things.get(best.id)!.box;
  const within = (value: number, from: number, to: number) => Math.min(2, Math.max(-1, (value - from) / Math.max(1e-9, to - from)));
  return { item: best.id, u: within(x, minX, maxX), v: within(y, minY, maxY) };
}
