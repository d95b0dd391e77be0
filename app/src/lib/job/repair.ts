/** Carries out the repair a finding offers, as one step that can be undone. */
import { wordsOf, type Finding } from '@kerbe/core/findings';
import { takeLeftOut } from '@kerbe/core/job/target';
import type { ArtEditor } from '$lib/art/editor.svelte';
import type { JobSession } from './session.svelte';

export function repair(session: JobSession, editor: ArtEditor, found: Finding): void {
  const { repair: mend, cut } = found;
  if (!mend) return;
  const label = wordsOf(found, session.job.units).repair ?? 'Mend';
  if (mend.order) session.edit(label, (d) => void (d.cutOrder = mend.order!));
  else if (mend.fields && cut)
    session.edit(label, (d) => {
      if (d.cuts[cut]) Object.assign(d.cuts[cut], mend.fields);
    });
  else if (mend.guide)
    session.edit(label, (d) => {
      for (const id of mend.items) if (d.items[id]) d.items[id].guide = true;
    });
  else if (mend.later) session.edit(label, takeLeftOut);
  else void editor.repair(found);
}
