/** The drawing of the open job as the board paints it: drawn and checked by a worker, found by place. */
import RBush from 'rbush';
import type { Marks } from '@kerbe/core/artwork/snap';
import type { Finding } from '@kerbe/core/findings';
import type { Box } from '@kerbe/core/geometry';
import type { Job } from '@kerbe/core/job';
import { Superseded } from '../workers/superseded';
import type { artRoom, DrawnThing } from './desk';

/** A drawn thing as the board paints it. */
export interface ArtThing extends DrawnThing {
  path: Path2D;
}

const pathOf = ({ contours, lines }: DrawnThing): Path2D => {
  const path = new Path2D();
  const trace = (xy: Float64Array, closed: boolean) => {
    path.moveTo(xy[0], xy[1]);
    for (let i = 2; i < xy.length; i += 2) path.lineTo(xy[i], xy[i + 1]);
    if (closed) path.closePath();
  };
  for (const xy of contours) trace(xy, true);
  for (const { xy, closed } of lines) trace(xy, closed);
  return path;
};

export class Drawing {
  things = $state.raw<ReadonlyMap<string, ArtThing>>(new Map());
  findings = $state.raw<Finding[]>([]);
  /** How far a long drawing is, or null. */
  progress = $state.raw<number | null>(null);

  private index = new RBush<Box & { id: string }>();
  private marks = new RBush<Box & { id: string }>();
  private readonly desk: ReturnType<typeof artRoom>;
  private readonly failed: (why: string) => void;

  constructor(desk: ReturnType<typeof artRoom>, failed: (why: string) => void) {
    this.desk = desk;
    this.failed = failed;
  }

  /** Draws what changed; call whenever the document changed. */
  async redraw(job: Job): Promise<void> {
    try {
      const { changed, whole } = await this.desk.ask('draw', { job }, (done) => (this.progress = done > 0 && done < 1 ? done : null));
      const next = new Map<string, ArtThing>();
      const fresh = new Map(changed.map((thing) => [thing.id, thing]));
      for (const id of job.itemOrder) {
        const thing = fresh.get(id);
        // A worker that was started anew sends everything.
        const old = whole ? undefined : this.things.get(id);
        if (thing) next.set(id, { ...thing, path: pathOf(thing) });
        else if (old) next.set(id, old);
      }
      this.index = new RBush();
      this.index.load([...next.values()].filter(({ box }) => box.minX <= box.maxX).map(({ id, box }) => ({ ...box, id })));
      this.marks = new RBush();
      this.marks.load([...next.values()].filter(({ marks }) => marks.points.length).map(({ id, marks }) => ({ ...marks.box, id })));
      this.things = next;
      this.progress = null;
      this.findings = await this.desk.ask('check', { job });
    } catch (error) {
      this.progress = null;
      if (!(error instanceof Superseded)) this.failed((error as Error).message);
    }
  }

  /** Things whose boxes meet a box, in drawing order. */
  within(box: Box): ArtThing[] {
    return this.index
      .search(box)
      .map(({ id }) => this.things.get(id)!)
      .filter(Boolean);
  }

  /** Snap marks whose boxes meet a box, but those of some things. */
  marksIn(box: Box, without: ReadonlySet<string>): Marks[] {
    return this.marks.search(box).flatMap(({ id }) => (without.has(id) ? [] : (this.things.get(id)?.marks ?? [])));
  }

  /** Box around some things, as drawn; null when nothing of them is. */
  boxOf(ids: Iterable<string>): Box | null {
    const box = { minX: Infinity, minY: Infinity, maxX: -Infinity, maxY: -Infinity };
    for (const id of ids) {
      const b = this.things.get(id)?.box;
      if (!b || b.minX > b.maxX) continue;
      box.minX = Math.min(box.minX, b.minX);
      box.minY = Math.min(box.minY, b.minY);
      box.maxX = Math.max(box.maxX, b.maxX);
      box.maxY = Math.max(box.maxY, b.maxY);
    }
    return box.minX <= box.maxX ? box : null;
  }
}
