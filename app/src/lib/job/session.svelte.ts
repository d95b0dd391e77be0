/**
 * The open job: the document, its undo steps, autosave by revision, and the plan that follows
 * every change. Edits are recipes on an immutable document, each one named step.
 */
import { applyPatches, enablePatches, produceWithPatches, type Draft, type Patch } from 'immer';
import { changedJob, type Change } from '@kerbe/core/artwork/change';
import { readJob, type Job } from '@kerbe/core/job';
import { tabName } from '$lib/ui/tab';
import { Planner, type BoardMap, type PlanView, type Questions, type SentMap } from './planner.ts';

enablePatches();

interface Step {
  label: string;
  redo: Patch[];
  undo: Patch[];
  at: number;
  key: string | null;
}

export type SaveState =
  { kind: 'saved' } | { kind: 'saving' } | { kind: 'waiting' } | { kind: 'offline'; why: string } | { kind: 'clash'; why: string; revision: number };

const SAVE_AFTER = 500;
const RETRY_AFTER = 2000;

export class JobSession {
  readonly id: string;
  job = $state.raw<Job>(undefined!);
  revision = $state(0);
  save = $state.raw<SaveState>({ kind: 'saved' });
  plan = $state.raw<PlanView | null>(null);
  /** True while the plan shown belongs to an older document. */
  stale = $state(true);
  progress = $state.raw<{ what: string; done: number } | null>(null);
  planFailed = $state.raw<string | null>(null);
  private past = $state.raw<Step[]>([]);
  private future = $state.raw<Step[]>([]);
  undoLabel = $derived(this.past.at(-1)?.label ?? null);
  redoLabel = $derived(this.future.at(-1)?.label ?? null);

  private date = today();
  /** Ids of the bits in the shop's crib; nothing until they are known. */
  private crib: string[] | null = null;
  private readonly planner: Planner;
  private timer: ReturnType<typeof setTimeout> | null = null;
  private dirty = false;
  private lastLabel = 'Change';
  private picture: string | null = null;
  /** Who saves: what this tab saved itself is no clash to it, even when the answer got lost. */
  private readonly tab = tabName();
  private closed = false;

  constructor(id: string, revision: number, job: Job, crib: string[] | null = null) {
    this.crib = crib;
    this.id = id;
    this.job = job;
    this.revision = revision;
    this.planner = new Planner({
      progress: (what, done) => (this.progress = { what, done }),
      plan: (view) => {
        this.plan = view;
        this.stale = false;
        this.progress = null;
        this.planFailed = null;
        this.picture = pictureOf(view);
      },
      failed: (why) => {
        this.progress = null;
        this.planFailed = why;
      },
    });
    this.restoreDraft();
    this.replan();
  }

  /**
   * Changes the document as one named step.
   *
   * @param key edits with the same key within a while are one step: typing, dragging, nudging
   * @param within how long, milliseconds
   */
  edit(label: string, recipe: (draft: Draft<Job>) => void, key: string | null = null, within = 1000): void {
    const [next, redo, undo] = produceWithPatches(this.job, recipe);
    if (redo.length === 0) return;
    const last = this.past.at(-1);
    const now = Date.now();
    if (key && last?.key === key && now - last.at < within) {
      this.past = [...this.past.slice(0, -1), { label, key, at: now, redo: [...last.redo, ...redo], undo: [...undo, ...last.undo] }];
    } else this.past = [...this.past.slice(-199), { label, redo, undo, key, at: now }];
    this.future = [];
    this.adopt(next, label);
  }

  /** Lays what an edit of artwork made into the document, as one named step. */
  change(label: string, change: Change): void {
    const { job } = this;
    const next = changedJob(job, change);
    this.edit(label, (d) => {
      for (const [id, item] of Object.entries(next.items)) if (job.items[id] !== item) d.items[id] = item;
      for (const id of Object.keys(job.items)) if (!next.items[id]) delete d.items[id];
      if (next.itemOrder.length !== job.itemOrder.length || next.itemOrder.some((id, i) => id !== job.itemOrder[i])) d.itemOrder = next.itemOrder;
      if (next.cuts !== job.cuts) [d.cuts, d.cutOrder] = [next.cuts, next.cutOrder];
      d.outline = next.outline;
    });
  }

  /** Takes another version of this job for the present one, as one named step. */
  restore(label: string, version: Job): void {
    this.edit(label, (d) => {
      const draft = d as Record<string, unknown>;
      for (const key of Object.keys(draft)) if (!(key in version)) delete draft[key];
      for (const [key, value] of Object.entries(version)) if (JSON.stringify(value) !== JSON.stringify(this.job[key as keyof Job])) draft[key] = value;
    });
  }

  undo(): void {
    const step = this.past.at(-1);
    if (!step) return;
    this.past = this.past.slice(0, -1);
    this.future = [...this.future, step];
    this.adopt(applyPatches(this.job, step.undo), `Undo: ${step.label}`);
  }

  redo(): void {
    const step = this.future.at(-1);
    if (!step) return;
    this.future = this.future.slice(0, -1);
    this.past = [...this.past, { ...step, key: null }];
    this.adopt(applyPatches(this.job, step.redo), `Redo: ${step.label}`);
  }

  cancelPlan(): void {
    this.planner.cancel();
    this.progress = null;
    this.planFailed = 'Planning was cancelled. Change something, or plan again.';
  }

  replan(): void {
    this.stale = true;
    this.planFailed = null;
    this.planner.request(this.job, this.date, this.crib);
  }

  /** The date in the header of programs: today's, or that of the release that is looked at. */
  useDate(date: string): void {
    if (date === this.date) return;
    this.date = date;
    this.replan();
  }

  /** The bits the shop has, so that those it has not are named. */
  useCrib(ids: string[]): void {
    if (this.crib?.join() === ids.join()) return;
    this.crib = ids;
    this.replan();
  }

  /** Asks the worker about the plan that is shown. */
  ask<K extends Exclude<keyof Questions, 'plan'>>(kind: K, data: Questions[K][0]): Promise<Questions[K][1]> {
    return this.planner.ask(kind, data);
  }

  mapOf(sent: SentMap): BoardMap {
    return this.planner.mapOf(sent);
  }

  /** Saves now; resolves to true when everything is on the server. */
  async saveNow(): Promise<boolean> {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    if (!this.dirty || this.save.kind === 'clash') return !this.dirty;
    if (this.save.kind === 'saving') {
      await new Promise((done) => setTimeout(done, 100));
      return this.saveNow();
    }
    const sent = this.job;
    this.save = { kind: 'saving' };
    try {
      const response = await fetch(`/api/jobs/${this.id}`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ from: this.revision, label: this.lastLabel, doc: sent, picture: this.picture, tab: this.tab }),
      });
      const answer = (await response.json()) as { revision?: number; why?: string };
      if (response.ok) {
        this.revision = answer.revision!;
        this.dirty = this.job !== sent;
        this.save = this.dirty ? { kind: 'waiting' } : { kind: 'saved' };
        if (!this.dirty) localStorage.removeItem(this.draftKey);
        else this.later(SAVE_AFTER);
        return !this.dirty;
      }
      if (response.status === 409) {
        this.save = { kind: 'clash', why: answer.why!, revision: answer.revision! };
        return false;
      }
      this.save = { kind: 'offline', why: answer.why ?? 'The server refused the save.' };
      if (response.status >= 500) this.later(RETRY_AFTER);
    } catch {
      this.save = { kind: 'offline', why: 'No connection to Kerbe. Your changes are kept in this browser and saved when it is back.' };
      this.later(RETRY_AFTER);
    }
    return false;
  }

  /** After a clash: go on with this version on top of the other, or take the other. */
  async resolveClash(mine: boolean): Promise<void> {
    if (this.save.kind !== 'clash') return;
    if (mine) {
      this.revision = this.save.revision;
      this.save = { kind: 'waiting' };
      await this.saveNow();
      return;
    }
    const answer = (await (await fetch(`/api/jobs/${this.id}`, { cache: 'no-store' })).json()) as { revision: number; doc: unknown };
    const reading = readJob(answer.doc);
    if (!reading.ok) {
      this.save = { kind: 'offline', why: `The other version cannot be read: ${reading.why[0]}` };
      return;
    }
    this.revision = answer.revision;
    this.past = [];
    this.future = [];
    this.dirty = false;
    localStorage.removeItem(this.draftKey);
    this.job = reading.job;
    this.save = { kind: 'saved' };
    this.replan();
  }

  close(): void {
    this.closed = true;
    if (this.dirty) void this.saveNow();
    this.planner.close();
  }

  private get draftKey(): string {
    return `kerbe-draft-${this.id}`;
  }

  private adopt(next: Job, label: string): void {
    this.job = next;
    this.dirty = true;
    this.lastLabel = label;
    if (this.save.kind === 'saved') this.save = { kind: 'waiting' };
    try {
      localStorage.setItem(this.draftKey, JSON.stringify({ revision: this.revision, job: next }));
    } catch {
      // A browser without room for a draft still has the server.
    }
    if (this.save.kind !== 'clash') this.later(SAVE_AFTER);
    this.replan();
  }

  private later(after: number): void {
    if (this.closed) return;
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.saveNow(), after);
  }

  /** What was typed before a reload, a crash or a lost connection and never reached the server. */
  private restoreDraft(): void {
    try {
      const draft = JSON.parse(localStorage.getItem(this.draftKey) ?? 'null') as { revision: number; job: unknown } | null;
      if (!draft) return;
      // Changes kept by an older page are brought up to date as any document is.
      const reading = readJob(draft.job);
      if (!reading.ok) return localStorage.removeItem(this.draftKey);
      // The server took it and could not say so any more: nothing is left to keep.
      if (inOrder(reading.job) === inOrder(this.job)) return localStorage.removeItem(this.draftKey);
      this.job = reading.job;
      this.revision = draft.revision;
      this.dirty = true;
      this.lastLabel = 'Kept changes';
      this.save = { kind: 'waiting' };
      this.later(0);
    } catch {
      localStorage.removeItem(this.draftKey);
    }
  }
}

/** A document as text that does not depend on the order of its fields: the database keeps none. */
const inOrder = (job: Job): string =>
  JSON.stringify(job, (_, value: unknown) =>
    value && typeof value === 'object' && !Array.isArray(value) ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1))) : value,
  );

/** As the server writes it: in UTC. */
export const today = (): string => new Date().toISOString().slice(0, 10);

function pictureOf({ thumbnail }: PlanView): string | null {
  const canvas = document.createElement('canvas');
  canvas.width = thumbnail.width;
  canvas.height = thumbnail.height;
  const context = canvas.getContext('2d');
  if (!context) return null;
  const image = context.createImageData(thumbnail.width, thumbnail.height);
  image.data.set(thumbnail.data);
  context.putImageData(image, 0, 0);
  return canvas.toDataURL('image/webp', 0.8);
}
