<script lang="ts">
  /** The crib: every bit of the shop to one scale, with its figures and hours. */
  import { decodeText } from '@kerbe/core/text';
  import { bitLabel, cuttingWidth } from '@kerbe/core/bits';
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
  let unit = $state<'mm' | 'in'>('mm');
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
<main>
  <div class="head">
    <h1>Bits</h1>
    <button class="press" onclick={() => (unit = unit === 'mm' ? 'in' : 'mm')}>shown in {unit}</button>
    <span class="grow"></span>
    <button class="press" onclick={() => chooser.click()}>Import CSV or JSON</button>
    <button class="press" disabled={bits.length === 0} onclick={() => saveFile('bits.csv', cribToCsv(bits.map(({ bit }) => bit)), 'text/csv')}
      >Save as CSV</button
    >
    <button class="press" disabled={bits.length === 0} onclick={() => saveFile('bits.json', cribToJson(bits.map(({ bit }) => bit)), 'application/json')}
      >Save as JSON</button
    >
    <button class="next" onclick={add}>Add a bit</button>
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
  <div class="crib" class:two={opened !== null}>
    <ul>
      {#each bits as { bit, hours } (bit.id)}
        <li>
          <button class:here={bit.id === open} aria-pressed={bit.id === open} onclick={() => (open = bit.id === open ? null : bit.id)}>
            <span class="drawing"><BitDrawing {bit} scale={2.2} height={118} /></span>
            <strong>{bit.name || bitLabel(bit)}</strong>
            <span class="quiet"
              >{bit.kind === 'drag'
                ? `scratches ${len(bit.lineWidth, unit)}`
                : `cuts ${len(cuttingWidth(bit), unit)}${bit.measuredWidth ? ' (measured)' : ''}`}, shank {len(bit.shank, unit)}, reaches {len(
                bit.fluteLength,
                unit,
              )}</span
            >
            <span class="quiet">{hours > 0 ? `${duration(3600 * hours)} at work` : 'not used yet'}</span>
          </button>
        </li>
      {:else}
        <li class="empty">
          <p>No bit in the crib yet. Jobs take their bits from here, and hours are counted here.</p>
          <button class="next" onclick={() => change('/api/bits', 'POST', { usual: true }, '')}>Begin with the usual set</button>
        </li>
      {/each}
    </ul>
    {#if opened}
      <section aria-label="The bit {opened.bit.name}">
        {#key opened.bit.id}<BitFields bit={opened.bit} {unit} onchange={(bit) => void keep([bit])} />{/key}
        <button class="press" onclick={() => drop(opened.bit.id)}>Take it out of the crib</button>
      </section>
    {/if}
  </div>
</main>

<style>
  main {
    padding: 1.2rem 1.6rem;
  }
  .head {
    display: flex;
    gap: 0.6rem;
    align-items: center;
    padding-bottom: 0.8rem;
  }
  .grow {
    flex: 1;
  }
  h1 {
    font-size: 1.7rem;
  }
  .crib {
    display: grid;
    gap: 1.4rem;
  }
  .two {
    grid-template-columns: minmax(0, 1fr) 27rem;
  }
  ul {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(11.5rem, 1fr));
    gap: 0.7rem;
    list-style: none;
    padding: 0;
    margin: 0;
    align-content: start;
  }
  li button:not(.next) {
    width: 100%;
    height: 100%;
    text-align: left;
    padding: 0.7rem;
    border: 1px solid var(--line);
    background: var(--sheet);
    display: grid;
    gap: 0.2rem;
    align-content: start;
    font-size: 0.88rem;
  }
  li .here {
    border-color: var(--accent) !important;
    box-shadow: inset 0 -2px 0 var(--accent);
  }
  .drawing {
    height: 118px;
    display: grid;
    place-items: end center;
    overflow: hidden;
  }
  .empty {
    grid-column: 1 / -1;
    padding: 2rem 0;
  }
  section {
    border-left: 1px solid var(--line);
    padding-left: 1.2rem;
  }
</style>
