<script lang="ts">
  /** Trying the size on the real thing, and the artwork out in open formats. */
  import { len } from '$lib/ui/format';
  import { checkLine, PAPERS, sheetsFor } from '@kerbe/core/artwork/template';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import { saveFile } from '$lib/ui/files';
  import { ARTWORK } from '$lib/labels/artwork';
  import { COMMON } from '$lib/labels/common';

  let { editor }: { editor: ArtEditor } = $props();
  let paper = $state('a4');
  const sheets = $derived(sheetsFor(editor.job.board, PAPERS[paper]).length);
  const stem = $derived(editor.job.name.replace(/[^\w -]/g, '') || 'sign');

  async function write(format: 'svg' | 'dxf') {
    try {
      const text = await editor.desk.ask('export', { job: editor.job, format });
      saveFile(`${stem}.${format}`, text, format === 'svg' ? 'image/svg+xml' : 'application/dxf');
    } catch (error) {
      editor.note = { text: (error as Error).message, bad: true };
    }
  }
  async function print() {
    // The server draws the saved revision.
    if (!(await editor.session.saveNow())) {
      editor.note = { text: 'The job is not saved yet: the paper would show an older drawing. Try again when it says “saved”.', bad: true };
      return;
    }
    const response = await fetch(`/api/jobs/${editor.session.id}/template?paper=${paper}`).catch(() => null);
    if (!response?.ok) editor.note = { text: 'The paper template could not be made. Check the connection and try again.', bad: true };
    else saveFile(`${stem} full size.pdf`, await response.blob(), 'application/pdf');
  }
</script>

<details class="border-t border-surface-200-800">
  <summary class="py-2.5 cursor-pointer font-semibold text-lg">{ARTWORK.tryTheSizeSaveThe}</summary>
  <p>Print it full size, lay it where the sign will hang, and check the line of {len(checkLine(editor.job.units), editor.job.units)} on every sheet.</p>
  <Choice
    label={COMMON.paper}
    value={paper}
    options={Object.entries(PAPERS).map(([value, { name }]) => ({ value, label: name }))}
    onchange={(v) => (paper = v)}
  />
  <div class="py-2 gap-1.5 flex flex-wrap">
    <button class="btn preset-outlined-surface-300-700" onclick={print}>{ARTWORK.paperTemplate(sheets, sheets === 1 ? 'sheet' : 'sheets')}</button>
    <button class="btn preset-outlined-surface-300-700" onclick={() => write('svg')}>{ARTWORK.saveAsSvg}</button>
    <button class="btn preset-outlined-surface-300-700" onclick={() => write('dxf')}>{ARTWORK.saveAsDxf}</button>
  </div>
</details>
