/** Files on their way into a job, dropped or chosen: drawings, pictures, faces, lists of plates. */
import { decodeText } from '@kerbe/core/text';
import type { ArtEditor } from './editor.svelte';
import { Incoming } from './incoming.svelte';

export class Arrivals {
  /** A drawing or picture that is looked at before it is put on the board. */
  incoming = $state.raw<Incoming | null>(null);
  /** The list plates are made from; null while there is none. */
  plates = $state<string | null>(null);
  private readonly editor: ArtEditor;
  private readonly kept: () => Promise<void>;

  /** @param kept called when the shop has a face more */
  constructor(editor: ArtEditor, kept: () => Promise<void>) {
    this.editor = editor;
    this.kept = kept;
  }

  /** Reads a file here, keeps it with the job, and puts it on the board when the person says so. */
  async take(file: File): Promise<void> {
    const bytes = new Uint8Array(await file.arrayBuffer());
    const next = new Incoming(this.editor, file.name, bytes);
    if (next.kind === 'list') {
      this.plates = decodeText(bytes);
      return;
    }
    if (next.kind === 'face') return this.takeFace(next);
    this.incoming = next;
    // First what the person waits for; the server reads the file after that.
    await next.read();
    void next.send();
  }

  /** The face is the shop's from now on, and that of the words it was brought in for. */
  private async takeFace(face: Incoming): Promise<void> {
    const { editor } = this;
    await face.send();
    if (face.kept.state === 'kept') {
      await this.kept();
      const words = editor.job.itemOrder
        .map((id) => editor.job.items[id])
        .find((item) => item.kind === 'text' && (editor.selection.size === 0 || editor.selection.has(item.id)));
      const { id } = face.kept;
      if (words?.kind === 'text') editor.set<typeof words>('Face', words.id, (d) => void (d.face = id));
      editor.note = { text: `${face.name} is one of the shop’s fonts now. Mind its licence.`, bad: false };
    } else if (face.kept.state === 'refused') editor.note = { text: face.kept.why, bad: true };
  }

  leave(): void {
    this.incoming?.close();
    this.incoming = null;
  }
}
