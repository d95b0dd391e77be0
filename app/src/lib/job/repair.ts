/** Carries out the repair a finding offers, as one step that can be undone. */
import type { Finding } from '@kerbe/core/preflight';
import type { ArtEditor } from '$lib/art/editor.svelte';
import type { JobSession } from './session.svelte';

export function repair(session: JobSession, editor: ArtEditor, found: Finding): void {
  const { repair: mend, cut } = found;
  if (!mend) return;
  if (mend.order) session.edit(mend.label, (d) => void (d.cutOrder = mend.order!));
  else if (mend.floor !== undefined && cut)
    session.edit(mend.label, (d) => {
      const carve = d.cuts[cut];
      if (carve?.kind === 'vcarve') carve.floorDepth = mend.floor;
    });
  else if (mend.guide)
    session.edit(mend.label, (d) => {
      for (const id of mend.items) if (d.items[id]) d.items[id].guide = true;
    });
  else void editor.repair(found);
}
