/** What a card gives to whatever its kind of cut shows besides the fields. */
import type { Cut } from '@kerbe/core/job';
import type { ArtEditor } from '$lib/art/editor.svelte';
import type { CutView } from '$lib/job/planner';
import type { JobSession } from '$lib/job/session.svelte';

export interface ExtraProps<C extends Cut = Cut> {
  session: JobSession;
  editor: ArtEditor;
  cut: C;
  view: CutView | undefined;
  /** Keeps a cut open, whatever becomes of the order. */
  onopen: (id: string) => void;
}
