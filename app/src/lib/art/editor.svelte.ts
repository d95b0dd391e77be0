/**
 * The artwork of the open job as a person works on it: what is drawn, what is selected, which tool
 * is in hand, what was found. Every change goes through the job session as one named step.
 */
import RBush from 'rbush';
import type { Edit } from '@kerbe/core/artwork/edit';
import type { NodeAt, NodeEdit } from '@kerbe/core/artwork/nodes';
import { freshId } from '@kerbe/core/artwork/thing';
import type { Marks } from '@kerbe/core/artwork/snap';
import type { Box } from '@kerbe/core/geometry';
import { makeItem, type Item, type ItemInput, type Job } from '@kerbe/core/job';
import type { Finding } from '@kerbe/core/preflight';
import type { JobSession } from '../job/session.svelte';
import { ArtDesk, Superseded, type DrawnThing } from './desk';

export type ToolName = 'select' | 'nodes' | 'measure' | 'bit' | 'line' | 'bridge' | 'point';

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

/** A place on the board that is shown, and what is said of it. */
export type Place = Pick<Finding, 'what' | 'at' | 'cut'>;

export class ArtEditor {
  readonly session: JobSession;
  readonly desk = new ArtDesk();
  things = $state.raw<ReadonlyMap<string, ArtThing>>(new Map());
  findings = $state.raw<Finding[]>([]);
  /** How far a long drawing is, or null. */
  drawing = $state.raw<number | null>(null);
  selection = $state.raw<ReadonlySet<string>>(new Set());
  tool = $state<ToolName>('select');
  /** Nodes picked with the nodes tool. */
  nodes = $state.raw<readonly NodeAt[]>([]);
  /** What went wrong with the last edit, or what is worth knowing of it. */
  note = $state.raw<{ text: string; bad: boolean } | null>(null);
  /** An edit under way, by its name. */
  busy = $state.raw<string | null>(null);
  showOrder = $state(false);
  /** Finding that is looked at: its place is marked. */
  shown = $state.raw<Place | null>(null);
  /** Distance of the snap grid, mm; 0 for none. */
  grid = $state(0);
  snapping = $state(true);
  /** Width of the circle that follows the pointer: a bit of the job, by id. */
  bit = $state<string | null>(null);
  /** What the point tool is for, and what to do with the point. */
  pointFor = $state.raw<{ what: string; then: (x: number, y: number) => void } | null>(null);
  measured = $state.raw<string[]>([]);

  private index = new RBush<Box & { id: string }>();
  private marks = new RBush<Box & { id: string }>();

  constructor(session: JobSession) {
    this.session = session;
  }

  get job(): Job {
    return this.session.job;
  }

  /** Draws what changed; call whenever the document changed. */
  async redraw(job: Job): Promise<void> {
    this.keepSelection(job);
    try {
      const { changed } = await this.desk.ask('draw', { job }, (done) => (this.drawing = done > 0 && done < 1 ? done : null));
      const next = new Map<string, ArtThing>();
      const fresh = new Map(changed.map((thing) => [thing.id, thing]));
      for (const id of job.itemOrder) {
        const thing = fresh.get(id);
        const old = this.things.get(id);
        if (thing) next.set(id, { ...thing, path: pathOf(thing) });
        else if (old) next.set(id, old);
      }
      this.index = new RBush();
      this.index.load([...next.values()].filter(({ box }) => box.minX <= box.maxX).map(({ id, box }) => ({ ...box, id })));
      this.marks = new RBush();
      this.marks.load([...next.values()].filter(({ marks }) => marks.points.length).map(({ id, marks }) => ({ ...marks.box, id })));
      this.things = next;
      this.drawing = null;
      this.findings = await this.desk.ask('check', { job });
    } catch (error) {
      this.drawing = null;
      if (!(error instanceof Superseded)) this.note = { text: (error as Error).message, bad: true };
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

  isLocked(id: string): boolean {
    const item = this.job.items[id];
    return !item || item.locked || (this.job.layers.find((layer) => layer.id === (item.layer ?? this.job.layers[0]?.id))?.locked ?? false);
  }

  select(ids: Iterable<string>): void {
    const { items } = this.job;
    const chosen = new Set<string>();
    const groups = new Set<string>();
    for (const id of ids) {
      if (!items[id]) continue;
      chosen.add(id);
      if (items[id].group) groups.add(items[id].group);
    }
    if (groups.size) for (const item of Object.values(items)) if (item.group && groups.has(item.group)) chosen.add(item.id);
    this.selection = chosen;
    this.nodes = [];
    if (this.tool === 'nodes' && chosen.size !== 1) this.tool = 'select';
  }

  selectAll(): void {
    this.select(this.job.itemOrder.filter((id) => !this.isLocked(id) && this.things.has(id)));
  }

  get ids(): string[] {
    return this.job.itemOrder.filter((id) => this.selection.has(id));
  }

  /** The one selected thing, or null. */
  get only(): Item | null {
    if (this.selection.size !== 1) return null;
    return this.job.items[[...this.selection][0]] ?? null;
  }

  /** Box of everything selected, as drawn. */
  selectionBox(): Box | null {
    const box = { minX: Infinity, minY: Infinity, maxX: -Infinity, maxY: -Infinity };
    for (const id of this.selection) {
      const b = this.things.get(id)?.box;
      if (!b || b.minX > b.maxX) continue;
      box.minX = Math.min(box.minX, b.minX);
      box.minY = Math.min(box.minY, b.minY);
      box.maxX = Math.max(box.maxX, b.maxX);
      box.maxY = Math.max(box.maxY, b.maxY);
    }
    return box.minX <= box.maxX ? box : null;
  }

  /** Changes the figures of one thing. */
  set<T extends Item>(label: string, id: string, change: (item: T) => unknown, key: string | null = null): void {
    this.session.edit(label, (d) => void change(d.items[id] as unknown as T), key);
  }

  move(dx: number, dy: number, key: string | null = null): void {
    const ids = this.ids.filter((id) => !this.isLocked(id));
    if (ids.length === 0) {
      this.note = this.selection.size ? { text: 'What is selected is locked.', bad: true } : null;
      return;
    }
    const tidy = (value: number) => Math.round(value * 1e5) / 1e5;
    this.session.edit(
      ids.length > 1 ? `Move ${ids.length} things` : 'Move',
      (d) => {
        for (const id of ids) {
          d.items[id].x = tidy(d.items[id].x + dx);
          d.items[id].y = tidy(d.items[id].y + dy);
        }
      },
      key,
    );
  }

  /** Carries out an edit in the worker and lays the result in, unless the job changed meanwhile. */
  async edit(label: string, edit: Edit): Promise<void> {
    await this.work(label, () => this.desk.ask('edit', { job: this.job, edit }));
  }

  async repair(found: Finding): Promise<void> {
    await this.work(found.repair?.label ?? 'Mend', () => this.desk.ask('repair', { job: this.job, finding: found }));
    this.shown = null;
  }

  async editNodes(label: string, edit: NodeEdit): Promise<void> {
    const { only } = this;
    if (only) await this.work(label, () => this.desk.ask('nodes', { job: this.job, thing: only.id, edit }));
  }

  private async work(label: string, ask: () => Promise<{ items: Record<string, Item | null>; order?: string[]; note?: string }>): Promise<void> {
    const { job } = this;
    this.busy = label;
    this.note = null;
    try {
      const change = await ask();
      if (this.job !== job) {
        this.note = { text: 'The job changed while that was worked out. Press it again.', bad: true };
        return;
      }
      this.session.change(label, change);
      if (change.note) this.note = { text: change.note, bad: false };
      const added = Object.keys(change.items).filter((id) => !job.items[id]);
      if (added.length) this.select([...this.selection, ...added]);
    } catch (error) {
      if (!(error instanceof Superseded)) this.note = { text: (error as Error).message, bad: true };
    } finally {
      this.busy = null;
    }
  }

  /** Adds a thing and selects it. */
  add(label: string, input: ItemInput extends infer I ? (I extends { id: string } ? Omit<I, 'id'> : never) : never, stem: string): string {
    const id = this.freeId(stem);
    const item = makeItem({ ...input, id } as never) as Item;
    this.session.edit(label, (d) => {
      d.items[id] = item as never;
      d.itemOrder = [...d.itemOrder, id];
    });
    this.tool = 'select';
    this.select([id]);
    return id;
  }

  /** Adds many things at once, with the layers they lie on. */
  addAll(label: string, items: readonly Item[], layers: Job['layers'] = []): void {
    this.session.edit(label, (d) => {
      // What was there keeps its place: the first layer is where things without one lie.
      if (layers.length) d.layers = d.layers.length ? [...d.layers, ...layers] : [{ id: 'first', name: 'First', hidden: false, locked: false }, ...layers];
      for (const item of items) d.items[item.id] = item as never;
      d.itemOrder = [...d.itemOrder, ...items.map(({ id }) => id)];
    });
    this.tool = 'select';
    this.select(items.length > 2000 ? [] : items.map(({ id }) => id));
  }

  freeId(stem: string): string {
    return this.job.items[stem] ? freshId(stem, (id) => id in this.job.items) : stem;
  }

  remove(): void {
    const ids = this.ids.filter((id) => !this.isLocked(id));
    if (ids.length === 0) return;
    this.session.change(ids.length > 1 ? `Delete ${ids.length} things` : 'Delete', { items: Object.fromEntries(ids.map((id) => [id, null])) });
    this.select([]);
  }

  group(): void {
    const { ids } = this;
    if (ids.length < 2) return;
    const taken = new Set(Object.values(this.job.items).map((item) => item.group));
    let n = 1;
    while (taken.has(`group${n}`)) n++;
    this.session.edit('Group', (d) => ids.forEach((id) => (d.items[id].group = `group${n}`)));
  }

  ungroup(): void {
    const { ids } = this;
    this.session.edit('Ungroup', (d) => ids.forEach((id) => delete d.items[id].group));
  }

  /** Locks, hides or makes a guide of what is selected, or frees it. */
  mark(what: 'locked' | 'hidden' | 'guide', on: boolean): void {
    const { ids } = this;
    const label = { locked: ['Unlock', 'Lock'], hidden: ['Show', 'Hide'], guide: ['Cut it again', 'Only a guide'] }[what][on ? 1 : 0];
    this.session.edit(label, (d) => ids.forEach((id) => (d.items[id][what] = on)));
  }

  addGuide(axis: 'x' | 'y', at: number): void {
    this.session.edit('Add a guide', (d) => {
      d.guides = [...d.guides, { axis, at: Math.round(at * 100) / 100 }];
    });
  }

  close(): void {
    this.desk.close();
  }

  private keepSelection({ items }: Job): void {
    if ([...this.selection].every((id) => items[id])) return;
    this.selection = new Set([...this.selection].filter((id) => items[id]));
    this.nodes = [];
  }
}
