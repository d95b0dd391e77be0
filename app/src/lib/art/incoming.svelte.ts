/** A file on its way in: what it is, what it holds, how large it will be - until it is put on the board or left. */
import { wordsOf } from '@kerbe/core/findings';
import { sniff } from '@kerbe/core/artwork/sniff';
import { TRACE, traceFor, type TraceSettings } from '@kerbe/core/artwork/trace';
import { UNITS } from '@kerbe/core/artwork/units';
import { kindNamed, kindsOf } from '@kerbe/core/cuts';
import { makeItem, type Item, type Job } from '@kerbe/core/job';
import type { FileView } from './desk';
import { Superseded } from '../workers/superseded';
import type { ArtEditor } from './editor.svelte';

/** Largest file that is read in the browser, bytes. */
const MOST = 64 * 1024 * 1024;
/** Bounded time: a file that takes longer is given up, seconds. */
const PATIENCE = 25;
/** More things than this become one for each layer, unless asked otherwise. */
const MANY = 3000;

/** Does a machine of this kind burn pictures as they are? */
export const burnsPictures = ({ process }: Pick<Job, 'process'>): boolean => kindsOf(process).some((kind) => kindNamed(kind).takesPictures);

export type Kept = { state: 'sending' } | { state: 'kept'; id: string } | { state: 'refused'; why: string };

export class Incoming {
  readonly editor: ArtEditor;
  readonly name: string;
  readonly kind: 'drawing' | 'picture' | 'face' | 'list' | 'other';
  bytes: Uint8Array;
  view = $state.raw<FileView | null>(null);
  /** What is being done, while the card waits. */
  doing = $state<string | null>(null);
  failed = $state<string | null>(null);
  kept = $state.raw<Kept>({ state: 'sending' });
  /** Millimetres of the file's unit, as chosen. */
  unit = $state(0);
  /** Typed width of everything, mm; overrides the unit. */
  width = $state<number | null>(null);
  oneThing = $state(false);
  /** Every outline and hole a thing of its own, to be sized one by one. */
  apart = $state(false);
  /** A logo is one thing; the parts of a measured drawing are worked on one by one. */
  together = $state(true);
  picture = $state.raw<{ width: number; height: number; dpi: number | null; url: string } | null>(null);
  trace = $state<TraceSettings>({ ...TRACE });
  /** The settings of the trace are a person's own: they follow the size of the picture no more. */
  tuned = false;
  /** Somebody said how large the picture is. */
  private sized = false;
  /** What is made of a picture: it comes as it is, or what is drawn in it, or that over the picture, to compare by. */
  as = $state<'picture' | 'traced' | 'over'>('traced');
  /** Width of the picture on the board, mm. */
  pictureWidth = $state(0);

  constructor(editor: ArtEditor, name: string, bytes: Uint8Array) {
    this.editor = editor;
    this.name = name;
    this.bytes = bytes;
    const found = sniff(bytes, name);
    this.kind =
      found.kind === 'svg' || found.kind === 'dxf'
        ? 'drawing'
        : found.kind === 'picture'
          ? 'picture'
          : found.kind === 'font'
            ? 'face'
            : found.kind === 'list'
              ? 'list'
              : 'other';
    this.together = found.kind !== 'dxf';
    if (burnsPictures(editor.job)) this.as = 'picture';
    if (found.kind === 'unknown') this.failed = found.why;
    else if (found.kind === 'job') this.failed = 'This is a whole job. Drop it on the wall of the shop to open it.';
    else if (bytes.length > MOST) this.failed = 'The file is larger than 64 MB. Leave out what is not needed and save it again.';
  }

  async read(): Promise<void> {
    if (this.failed || this.kind === 'list' || this.kind === 'face') return;
    await this.patiently('Reading the file', async () => {
      const { desk, job } = this.editor;
      if (this.kind === 'drawing') {
        this.show(await desk.ask('read', { bytes: this.bytes, name: this.name, boardWidth: job.board.width }));
        return;
      }
      const { width, height, dpi } = await desk.ask('picture', { bytes: this.bytes });
      this.picture = { width, height, dpi, url: URL.createObjectURL(new Blob([this.bytes as Uint8Array<ArrayBuffer>])) };
      this.pictureWidth = dpi ? (width * 25.4) / dpi : Math.min(0.6 * job.board.width, (0.6 * job.board.height * width) / height);
      await this.sizeTo(this.pictureWidth);
      this.sized = false;
    });
  }

  /** Size of a pixel on the board, mm. */
  get pixel(): number {
    return this.picture ? this.pictureWidth / this.picture.width : 1;
  }

  /** Sets the width of the picture on the board, mm; what suits the machine is so many pixels of another size then. */
  async sizeTo(width: number): Promise<void> {
    this.pictureWidth = width;
    this.sized = true;
    if (!this.tuned)
      this.trace = { ...traceFor(this.editor.job, this.pixel), threshold: this.trace.threshold, invert: this.trace.invert, along: this.trace.along };
    if (this.as !== 'picture') await this.retrace();
    else this.view = null;
  }

  /** Makes something else of a picture; what is drawn in it is looked for once it is asked for. */
  async become(as: Incoming['as']): Promise<void> {
    this.as = as;
    if (as !== 'picture' && !this.view) await this.patiently('Tracing the picture', () => this.retrace());
  }

  /** All is known that it needs to be put on the board. */
  get ready(): boolean {
    return this.picture && this.as !== 'traced' ? this.kept.state === 'kept' && (this.as === 'picture' || this.view !== null) : this.view !== null;
  }

  private show(view: FileView): void {
    this.view = view;
    this.unit = view.guess;
    this.oneThing = view.shapes + view.lines > MANY;
    const bad = view.findings.find(({ severity }) => severity === 'error');
    if (!bad) return;
    const { what, remedy } = wordsOf(bad, this.editor.job.units);
    this.failed = `${what} ${remedy}`;
  }

  async retrace(): Promise<void> {
    if (!this.picture) return;
    try {
      const view = await this.editor.desk.ask('trace', { settings: $state.snapshot(this.trace), pixel: 1 });
      this.view = view;
    } catch (error) {
      if (!(error instanceof Superseded)) this.failed = (error as Error).message;
    }
  }

  /** What the file's own millimetres are multiplied with. */
  get scale(): number {
    const { view } = this;
    if (!view) return 1;
    if (this.picture) return this.pictureWidth / this.picture.width;
    if (this.width !== null) return this.width / Math.max(1e-9, view.box.maxX - view.box.minX);
    return view.size.known ? 1 : UNITS[this.unit].mm / view.size.mm;
  }

  get size(): { width: number; height: number } {
    const { view, scale, picture } = this;
    if (picture && this.as === 'picture') return { width: this.pictureWidth, height: (this.pictureWidth * picture.height) / picture.width };
    if (!view || view.box.minX > view.box.maxX) return { width: 0, height: 0 };
    return { width: (view.box.maxX - view.box.minX) * scale, height: (view.box.maxY - view.box.minY) * scale };
  }

  /** Sends the file to be kept with the job; the server reads it again. */
  async send(): Promise<void> {
    if (this.failed || this.kind === 'list' || this.kind === 'other') return;
    const to = this.kind === 'face' ? '/api/faces' : `/api/jobs/${this.editor.session.id}/files`;
    try {
      const response = await fetch(`${to}?name=${encodeURIComponent(this.name)}`, {
        method: 'POST',
        // Without a type the server takes the body for none.
        headers: { 'content-type': 'application/octet-stream' },
        body: this.bytes as Uint8Array<ArrayBuffer>,
      });
      const answer = (await response.json()) as { id?: string; why?: string };
      this.kept = response.ok ? { state: 'kept', id: answer.id! } : { state: 'refused', why: answer.why ?? 'The server refused the file.' };
    } catch {
      this.kept = { state: 'refused', why: 'No connection to Kerbe: the file itself is not kept. What you put on the board is.' };
    }
  }

  /** Puts what was read on the board, in its middle. */
  async place(): Promise<void> {
    const { view, scale, editor } = this;
    const { job } = editor;
    const items = this.picture && this.as !== 'traced' ? [this.pictureItem(this.picture)] : [];
    if (this.picture && this.as === 'picture') {
      editor.addAll(`Import ${this.name}`.slice(0, 80), items, []);
      return;
    }
    if (!view) return;
    const middle = [(view.box.minX + view.box.maxX) / 2, (view.box.minY + view.box.maxY) / 2];
    const about = this.picture ? [0, 0] : middle;
    const prefix = this.picture ? 'traced' : 'drawn';
    const group = this.together && view.shapes + view.lines + view.words > 1 ? editor.freeId(`${prefix}-group`) : undefined;
    const placed = await editor.desk.ask('place', {
      scale,
      dx: job.board.width / 2 - about[0] * scale,
      dy: job.board.height / 2 - about[1] * scale,
      prefix,
      taken: Object.keys(job.items),
      group: this.oneThing ? undefined : group,
      oneThing: this.oneThing,
      apart: this.apart && !this.oneThing,
      // What is traced from a picture is drawn by hand: it has no figures to keep.
      shapes: this.picture ? undefined : job.tolerance,
      layers: view.layers.length > 1 && view.layers.length <= 60,
    });
    const taken = new Set(job.layers.map(({ id }) => id));
    const rename = new Map(placed.layers.map(({ id }) => [id, taken.has(id) ? `${id}-${job.layers.length}` : id]));
    const moved = placed.items.map((item) => (item.layer ? { ...item, layer: rename.get(item.layer) ?? item.layer } : item));
    editor.addAll(
      `Import ${this.name}`.slice(0, 80),
      [...items, ...moved],
      placed.layers.map((layer) => ({ ...layer, id: rename.get(layer.id)! })),
    );
    if (placed.leftOut > 0)
      editor.note = {
        text: `${placed.leftOut} ${placed.leftOut === 1 ? 'thing is' : 'things are'} larger or farther away than a board can be, and left out. Was the unit right?`,
        bad: true,
      };
  }

  /** The picture itself: one that is traced over lies still. */
  private pictureItem({ width, height, dpi }: { width: number; height: number; dpi: number | null }): Item {
    const { editor, kept } = this;
    if (kept.state !== 'kept') throw new Error('The picture is not kept with the job: it cannot be laid on the board. Try again when Kerbe can be reached.');
    return makeItem({
      kind: 'picture',
      id: editor.freeId('picture'),
      name: this.name.slice(0, 120),
      x: editor.job.board.width / 2,
      y: editor.job.board.height / 2,
      asset: kept.id,
      ...(dpi === null && !this.sized ? { proposedWidth: this.pictureWidth } : {}),
      width: this.pictureWidth,
      height: (this.pictureWidth * height) / width,
      locked: this.as === 'over',
    });
  }

  close(): void {
    if (this.picture) URL.revokeObjectURL(this.picture.url);
  }

  private async patiently(what: string, work: () => Promise<void>): Promise<void> {
    this.doing = what;
    const { desk } = this.editor;
    const timer = setTimeout(() => {
      desk.cancel();
      this.failed = `The file took more than ${PATIENCE} seconds to read, so it was given up. Simplify it where it was drawn.`;
      void this.editor.redraw(this.editor.job);
    }, PATIENCE * 1000);
    try {
      await work();
    } catch (error) {
      if (!(error instanceof Superseded)) this.failed = (error as Error).message;
    } finally {
      clearTimeout(timer);
      this.doing = null;
    }
  }
}
