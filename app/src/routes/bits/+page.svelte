<script lang="ts">
  /** The crib: every bit of the shop to one scale, with its figures and hours. */
  import { decodeText } from '@kerbe/core/text';
  import { bitName, cuttingWidth } from '@kerbe/core/bits';
  import { cribToCsv, cribToJson, readCrib } from '@kerbe/core/bits/crib';
  import { Bit as BitSchema, type Bit } from '@kerbe/core/job';
  import BitDrawing from '$lib/board/BitDrawing.svelte';
  import BitFields from '$lib/stages/cuts/BitFields.svelte';
  import { saveFile } from '$lib/ui/files';
  import { duration, len } from '$lib/ui/format';
  import { ask } from '$lib/ui/post';
  import ShopBar from '$lib/ui/ShopBar.svelte';

  type Crib = { bits: { bit: Bit; hours: number }[] };
  let { data } = $props();
  // svelte-ignore state_referenced_locally
  let bits = $state.raw<Crib['bits']>(data.bits);
  let open = $state<string | null>(null);
  let note = $state<{ text: string; bad: boolean } | null>(null);
  // svelte-ignore state_referenced_locally
  let unit = $state(data.units);
  let chooser: HTMLInputElement;
  const opened = $derived(bits.find(({ bit }) => bit.id === open) ?? null);

  async function change(url: string, method: 'POST' | 'DELETE', body: unknown, said: string) {
    const answer = await ask<Crib>(url, method, body);
    if (answer.ok) bits = answer.value.bits;
    note = answer.ok ? (said ? { text: said, bad: false } : null) : { text: answer.why, bad: true };
  }
  const keep = (list: Bit[], said = '') => change('/api/bits', 'POST', { bits: list }, said);
  async function add() {
    let n = 1;
    while (bits.some(({ bit }) => bit.id === `bit${n}`)) n++;
    await keep([BitSchema.parse({ kind: 'end', id: `bit${n}`, name: 'New bit', diameter: 6 })]);
    open = `bit${n}`;
  }
  async function bringIn(file: File) {
    const { bits: read, why } = readCrib(decodeText(new Uint8Array(await file.arrayBuffer())));
    if (read.length) await keep(read, `${read.length} ${read.length === 1 ? 'bit was' : 'bits were'} brought in.`);
    if (why.length) note = { text: `${read.length ? `${read.length} brought in. ` : ''}${why.slice(0, 4).join(' ')}`, bad: true };
  }
  async function drop(id: string) {
    await change(`/api/bits?id=${encodeURIComponent(id)}`, 'DELETE', undefined, 'The bit is out of the crib. Jobs that use it keep their own copy.');
    open = null;
  }
</script>

<svelte:head><title>Bits · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="bits" />
<main class="py-5 px-6.5">
  <div class="gap-2.5 flex items-center pb-3.5">
    <h1 class="text-3xl">Bits</h1>
    <button class="btn preset-outlined-surface-300-700" onclick={() => (unit = unit === 'mm' ? 'in' : 'mm')}>shown in {unit}</button>
    <span class="flex-1"></span>
    <button class="btn preset-outlined-surface-300-700" onclick={() => chooser.click()}>Import CSV or JSON</button>
    <button
      class="btn preset-outlined-surface-300-700"
      disabled={bits.length === 0}
      onclick={() => saveFile('bits.csv', cribToCsv(bits.map(({ bit }) => bit)), 'text/csv')}>Save as CSV</button
    >
    <button
      class="btn preset-outlined-surface-300-700"
      disabled={bits.length === 0}
      onclick={() => saveFile('bits.json', cribToJson(bits.map(({ bit }) => bit)), 'application/json')}>Save as JSON</button
    >
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={add}>Add a bit</button>
  </div>
  <input
    bind:this={chooser}
    type="file"
    hidden
    accept=".csv,.json,text/csv,application/json"
    onchange={(event) => {
      const [file] = event.currentTarget.files ?? [];
      event.currentTarget.value = '';
      if (file) void bringIn(file);
    }}
  />
  {#if note}<p class:caution={note.bad} role={note.bad ? 'alert' : 'status'}>{note.text}</p>{/if}
  <div class={['gap-5.5 grid', opened !== null && 'grid-cols-[minmax(0,1fr)_27rem]']}>
    <ul class="gap-3 grid grid-cols-[repeat(auto-fill,minmax(11.5rem,1fr))] content-start">
      {#each bits as { bit, hours } (bit.id)}
        <li>
          <button
            class={[
              'card grid h-full w-full content-start gap-1 border bg-surface-50-950 p-3 text-left text-sm',
              bit.id === open ? 'border-primary-600-400 shadow-[inset_0_-2px_0_var(--color-primary-600-400)]' : 'border-surface-200-800',
            ]}
            aria-pressed={bit.id === open}
            onclick={() => (open = bit.id === open ? null : bit.id)}
          >
            <span class="overflow-hidden h-29.5 grid items-end justify-items-center"><BitDrawing {bit} {unit} scale={2.2} height={118} /></span>
            <strong>{bitName(bit, unit)}</strong>
            <span class="text-surface-600-400"
              >{bit.kind === 'drag'
                ? `scratches ${len(bit.lineWidth, unit)}`
                : `cuts ${len(cuttingWidth(bit), unit)}${bit.measuredWidth ? ' (measured)' : ''}`}, shank {len(bit.shank, unit)}, reaches {len(
                bit.fluteLength,
                unit,
              )}</span
            >
            <span class="text-surface-600-400">{hours > 0 ? `${duration(3600 * hours)} at work` : 'not used yet'}</span>
          </button>
        </li>
      {:else}
        <li class="py-8 col-span-full">
          <p>No bit in the crib yet. Jobs take their bits from here, and hours are counted here.</p>
          <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={() => change('/api/bits', 'POST', { usual: true }, '')}
            >Begin with the usual set</button
          >
        </li>
      {/each}
    </ul>
    {#if opened}
      <section class="border-l border-surface-200-800 pl-5" aria-label="The bit {bitName(opened.bit, unit)}">
        {#key opened.bit.id}<BitFields bit={opened.bit} {unit} onchange={(bit) => void keep([bit])} />{/key}
        <button class="btn preset-outlined-surface-300-700" onclick={() => drop(opened.bit.id)}>Take it out of the crib</button>
      </section>
    {/if}
  </div>
</main>
