/**
 * The artwork of the open job as a person works on it: what is selected, and every edit of it, beside
 * the drawing itself and what is in hand. Every change goes through the job session as one named step.
 */
import type { Edit } from '@kerbe/core/artwork/edit';
import type { NodeAt, NodeEdit } from '@kerbe/core/artwork/nodes';
import { freshId } from '@kerbe/core/artwork/thing';
import type { Box } from '@kerbe/core/geometry';
import { makeItem, type Item, type ItemInput, type Job } from '@kerbe/core/job';
import { wordsOf, type Finding } from '@kerbe/core/findings';
import type { JobSession } from '../job/session.svelte';
import { Superseded } from '../workers/superseded';
import { artRoom, type Questions } from './desk';
import { Drawing } from './drawing.svelte';
import { BoardHand } from './hand.svelte';
import { ARTWORK } from '$lib/labels/artwork';
import { COMMON } from '$lib/labels/common';

/** A place on the board that is shown, and what is said of it. */
export interface Place extends Pick<Finding, 'at' | 'cut'> {
  what: string;
  /** The finding it is of. */
  of?: Finding;
}

export class ArtEditor {
  readonly session: JobSession;
  readonly desk = artRoom();
  readonly drawing = new Drawing(this.desk, (why) => (this.note = { text: why, bad: true }));
  readonly hand = new BoardHand();
  selection = $state.raw<ReadonlySet<string>>(new Set());
  /** Nodes picked with the nodes tool. */
  nodes = $state.raw<readonly NodeAt[]>([]);
  /** What went wrong with the last edit, or what is worth knowing of it. */
  note = $state.raw<{ text: string; bad: boolean } | null>(null);
  /** What was last done to things, or typed of them: once more, for others. */
  last = $state.raw<{ label: string; again: (ids: string[]) => void } | null>(null);
  /** An edit under way, by its name. */
  busy = $state.raw<string | null>(null);
  showOrder = $state(false);
  /** Finding that is looked at: its place is marked. */
  shown = $state.raw<Place | null>(null);

  constructor(session: JobSession) {
    this.session = session;
  }

  get job(): Job {
    return this.session.job;
  }

  /** Draws what changed; call whenever the document changed. */
  redraw(job: Job): Promise<void> {
    this.keepSelection(job);
    return this.drawing.redraw(job);
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
    if (this.hand.tool === 'nodes' && chosen.size !== 1) this.hand.tool = 'select';
  }

  selectAll(): void {
    this.select(this.job.itemOrder.filter((id) => !this.isLocked(id) && this.drawing.things.has(id)));
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
    return this.drawing.boxOf(this.selection);
  }

  /** Changes the figures of one thing. */
  set<T extends Item>(label: string, id: string, change: (item: T) => unknown, key: string | null = null): void {
    this.session.edit(label, (d) => void change(d.items[id] as unknown as T), key);
  }

  /** Types a figure of some things; {@link repeat} types it of others, as far as they have it. */
  type(label: string, ids: readonly string[], change: (item: Item) => unknown): void {
    this.last = { label, again: (others) => this.type(label, others, change) };
    this.session.edit(ids.length > 1 ? ARTWORK.ofSeveral(label, ids.length) : label, (d) => ids.forEach((id) => change(d.items[id] as unknown as Item)));
  }

  /** Does what was last done once more, to what is selected now. */
  repeat(): void {
    if (!this.last) this.note = { text: 'Nothing has been done to a thing yet that could be repeated.', bad: true };
    else if (this.selection.size === 0) this.note = { text: `Select what “${this.last.label}” is to be done to.`, bad: true };
    else this.last.again(this.ids.filter((id) => !this.isLocked(id)));
  }

  move(dx: number, dy: number, key: string | null = null): void {
    const ids = this.ids.filter((id) => !this.isLocked(id));
    if (ids.length === 0) {
      this.note = this.selection.size ? { text: 'What is selected is locked.', bad: true } : null;
      return;
    }
    const tidy = (value: number) => Math.round(value * 1e5) / 1e5;
    this.session.edit(
      ids.length > 1 ? ARTWORK.moveThings(ids.length) : ARTWORK.move,
      (d) => {
        for (const id of ids) {
          d.items[id].x = tidy(d.items[id].x + dx);
          d.items[id].y = tidy(d.items[id].y + dy);
        }
      },
      key,
    );
  }

  /** Words as some faces would set them. */
  inFaces(text: string, faces: readonly string[]): Promise<Questions['faces'][1]> {
    return this.desk.ask('faces', { text, faces });
  }

  /** Outlines of what an edit would make, while its button is pointed at. */
  foreseen = $state.raw<Float64Array[] | null>(null);
  private asked: Edit | null = null;

  /** Shows what an edit would make; null when nobody points at it any more. */
  async foresee(edit: Edit | null): Promise<void> {
    this.asked = edit;
    this.foreseen = null;
    if (!edit) return;
    // What cannot be done is said when it is asked for.
    const outlines = await this.desk.ask('foresee', { job: this.job, edit }).catch(() => null);
    if (this.asked === edit) this.foreseen = outlines;
  }

  /** Carries out an edit in the worker and lays the result in, unless the job changed meanwhile. */
  async edit(label: string, edit: Edit): Promise<void> {
    if ('ids' in edit) this.last = { label, again: (ids) => void this.edit(label, { ...edit, ids }) };
    await this.work(label, () => this.desk.ask('edit', { job: this.job, edit }));
  }

  async repair(found: Finding): Promise<void> {
    await this.work(wordsOf(found, this.job.units).repair ?? 'Mend', () => this.desk.ask('repair', { job: this.job, finding: found }));
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
    void this.foresee(null);
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
    this.hand.tool = 'select';
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
    this.hand.tool = 'select';
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
    this.session.edit(COMMON.group, (d) => ids.forEach((id) => (d.items[id].group = `group${n}`)));
  }

  ungroup(): void {
    const { ids } = this;
    this.session.edit(COMMON.ungroup, (d) => ids.forEach((id) => delete d.items[id].group));
  }

  /** Locks, hides or makes a guide of what is selected, or frees it. */
  mark(what: 'locked' | 'hidden' | 'guide' | 'bridge' | 'later', on: boolean): void {
    const { ids } = this;
    const labels = {
      locked: ['Unlock', 'Lock'],
      hidden: ['Show', 'Hide'],
      guide: ['Cut it again', 'Only a guide'],
      bridge: ['Cut it again', 'A bridge'],
      later: ['Cut it this time', 'Not this time'],
    };
    const label = labels[what][on ? 1 : 0];
    this.session.edit(label, (d) => ids.forEach((id) => (d.items[id][what] = on)));
  }

  addGuide(axis: 'x' | 'y', at: number): void {
    this.session.edit(ARTWORK.addAGuide, (d) => {
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
