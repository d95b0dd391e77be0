<script lang="ts">
  import { chipLoad, cuttingWidth, grooveWidth, stepOver, surfaceSpeed } from '@kerbe/core/bits';
  import { boardThickness, Cut as CutSchema, type Bit, type Cut } from '@kerbe/core/job';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import type { JobSession } from '$lib/job/session.svelte';
  import BitInGroove from '$lib/board/BitInGroove.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import Findings from './Findings.svelte';
  import { duration, len, num } from '$lib/ui/format';

  let { session, editor }: { session: JobSession; editor: ArtEditor } = $props();
  const job = $derived(session.job);
  const unit = $derived(job.units);
  const cuts = $derived(job.cutOrder.map((id) => job.cuts[id]));
  let open = $state<string | null>(null);
  const opened = $derived(open && job.cuts[open] ? open : job.cutOrder[0]);
  const TITLE = { vcarve: 'V-carve', profile: 'Profile', pocket: 'Pocket', drill: 'Drill', engrave: 'Engrave' };
  const ADD: Record<Cut['kind'], string> = {
    vcarve: 'Add a V-carve',
    profile: 'Add a profile',
    pocket: 'Add a pocket',
    drill: 'Add drilling',
    engrave: 'Add engraving',
  };
  const KINDS = Object.keys(TITLE) as Cut['kind'][];
  /** Bits that can make a cut, the likeliest kind first. */
  const SUITS: Record<Cut['kind'], Bit['kind'][]> = { vcarve: ['v'], profile: ['end'], pocket: ['end'], drill: ['drill', 'end'], engrave: ['v', 'end'] };
  const bitsFor = (kind: Cut['kind']) => SUITS[kind].flatMap((wanted) => Object.values(job.bits).filter((b) => b.kind === wanted));
  const worksOn = (cut: Cut) => (cut.on === 'art' ? 'art' : cut.on === 'outline' ? 'outline' : 'some');
  function workOn(cut: Cut, what: string) {
    both(cut.id, 'What the cut works on', (c) => void (c.on = what === 'art' || what === 'outline' ? what : editor.ids));
  }

  function change<K extends Cut['kind']>(id: string, kind: K, label: string, set: (cut: Extract<Cut, { kind: K }>) => void) {
    session.edit(label, (d) => {
      const cut = d.cuts[id];
      if (cut.kind === kind) set(cut as Extract<Cut, { kind: K }>);
    });
  }
  const both = (id: string, label: string, set: (cut: Cut) => void) => session.edit(label, (d) => set(d.cuts[id]));

  function add(kind: Cut['kind']) {
    let n = 1;
    while (job.cuts[`${kind}${n}`]) n++;
    const id = `${kind}${n}`;
    const [bit] = bitsFor(kind);
    if (!bit) return;
    const on = editor.selection.size > 0 ? editor.ids : kind === 'profile' ? 'outline' : 'art';
    const cut = CutSchema.parse({ kind, id, on, bit: bit.id });
    session.edit(`Add ${TITLE[kind]}`, (d) => {
      d.cuts[id] = cut as (typeof d.cuts)[string];
      d.cutOrder = [...d.cutOrder, id];
    });
    open = id;
  }
  function remove(id: string) {
    session.edit('Delete a cut', (d) => {
      delete d.cuts[id];
      d.cutOrder = d.cutOrder.filter((other) => other !== id);
    });
  }
  function move(id: string, by: -1 | 1) {
    session.edit('Order of cuts', (d) => {
      const order = [...d.cutOrder];
      const i = order.indexOf(id);
      const j = i + by;
      if (j < 0 || j >= order.length) return;
      [order[i], order[j]] = [order[j], order[i]];
      d.cutOrder = order;
    });
  }
</script>

<h2>Cuts, in the order they are made</h2>
{#each cuts as cut, index (cut.id)}
  {@const view = session.plan?.cuts.find(({ id }) => id === cut.id)}
  {@const bit = job.bits[cut.bit]}
  <section class:open={cut.id === opened}>
    <button class="title" aria-expanded={cut.id === opened} onclick={() => (open = cut.id)}>
      <span class="order figure">{index + 1}</span>
      <span class="name">{cut.name || TITLE[cut.kind]}<small>{TITLE[cut.kind]} · {bit.name}</small></span>
      <span class="figure">{view && !session.stale ? duration(view.seconds) : '…'}</span>
    </button>
    {#if cut.id === opened}
      <div class="body">
        {#if view && view.facts.moves > 0}
          <div class="drawn">
            <BitInGroove {bit} depth={view.facts.deepest} thickness={boardThickness(job.board)} {unit} />
            <dl>
              <div>
                <dt>Deepest</dt>
                <dd>{len(view.facts.deepest, unit)}</dd>
              </div>
              {#if cut.kind === 'vcarve' && bit.kind === 'v' && view.widest !== undefined}
                <div>
                  <dt>Widest stroke</dt>
                  <dd>{len(2 * view.widest, unit)}</dd>
                </div>
                <div>
                  <dt>Groove there</dt>
                  <dd>{len(grooveWidth(bit, view.facts.deepest - cut.startDepth), unit)}</dd>
                </div>
              {/if}
              {#if cut.kind === 'vcarve' && cut.floorDepth !== undefined}<div>
                  <dt>Ridge on the floor</dt>
                  <dd>{len(view.ridge ?? 0, unit)}</dd>
                </div>{/if}
              {#if view.holes !== undefined}<div>
                  <dt>Holes</dt>
                  <dd>{view.holes}</dd>
                </div>{/if}
              {#if view.unreached !== undefined}<div>
                  <dt>Not reached</dt>
                  <dd>{(view.unreached / (unit === 'in' ? 645.16 : 1)).toFixed(unit === 'in' ? 3 : 1)} {unit}²</dd>
                </div>{/if}
              {#if cut.kind === 'profile'}<div>
                  <dt>Tabs</dt>
                  <dd>{view.tabs ?? 0}</dd>
                </div>{/if}
              <div>
                <dt>Way under power</dt>
                <dd>{len(view.facts.cutting, unit)}</dd>
              </div>
              <div>
                <dt>Lifts</dt>
                <dd>{view.lifts}</dd>
              </div>
            </dl>
          </div>
        {/if}
        <Findings findings={(session.plan?.findings ?? []).filter((f) => f.cut === cut.id)} />
        <Choice
          label="Works on"
          value={worksOn(cut)}
          options={[
            { value: 'art', label: 'everything drawn' },
            { value: 'outline', label: 'the outline of the sign' },
            {
              value: 'some',
              label: Array.isArray(cut.on)
                ? `${cut.on.length} ${cut.on.length === 1 ? 'thing' : 'things'} picked for it`
                : `what is picked (${editor.selection.size})`,
            },
          ]}
          onchange={(v) => workOn(cut, v)}
        />
        {#if Array.isArray(cut.on) && editor.selection.size > 0}
          <button class="press" onclick={() => workOn(cut, 'some')}>Work on what is picked now ({editor.selection.size})</button>
        {/if}
        <Choice
          label="Bit"
          value={cut.bit}
          options={bitsFor(cut.kind).map((b) => ({ value: b.id, label: b.name || b.id }))}
          onchange={(v) => both(cut.id, 'Bit', (c) => void (c.bit = v))}
        />
        {#if cut.kind === 'vcarve'}
          <LengthField
            label="Floor, no deeper than"
            value={cut.floorDepth}
            {unit}
            min={0.05}
            placeholder="no floor"
            hint={cut.floorDepth === undefined ? 'Left empty, every stroke goes as deep as it is wide.' : undefined}
            onclear={() => change(cut.id, 'vcarve', 'No floor', (c) => void delete c.floorDepth)}
            onchange={(v) => change(cut.id, 'vcarve', 'Floor depth', (c) => void (c.floorDepth = v))}
          />
          {#if cut.floorDepth !== undefined}
            <LengthField
              label="Distance of floor passes"
              value={cut.stepover}
              {unit}
              min={0.02}
              onchange={(v) => change(cut.id, 'vcarve', 'Step-over', (c) => void (c.stepover = v))}
            />
          {/if}
          <LengthField
            label="Start below the surface"
            value={cut.startDepth}
            {unit}
            min={0}
            onchange={(v) => change(cut.id, 'vcarve', 'Start depth', (c) => void (c.startDepth = v))}
          />
        {:else if cut.kind === 'pocket'}
          <LengthField label="Depth" value={cut.depth} {unit} min={0.05} onchange={(v) => change(cut.id, 'pocket', 'Depth', (c) => void (c.depth = v))} />
          <LengthField
            label="Depth of each pass"
            value={cut.depthPerPass}
            {unit}
            min={0.05}
            onchange={(v) => change(cut.id, 'pocket', 'Depth per pass', (c) => void (c.depthPerPass = v))}
          />
          <LengthField
            label="Between passes"
            value={cut.stepover}
            {unit}
            min={0.05}
            placeholder={num(stepOver(bit, cut.stepover), unit)}
            hint="{Math.round((100 * stepOver(bit, cut.stepover)) / cuttingWidth(bit))} % of the bit’s width{cut.stepover === undefined
              ? ', as is usual'
              : ''}."
            onclear={() => change(cut.id, 'pocket', 'Usual step-over', (c) => void delete c.stepover)}
            onchange={(v) => change(cut.id, 'pocket', 'Step-over', (c) => void (c.stepover = v))}
          />
          <Choice
            label="Passes run"
            value={cut.pattern}
            options={[
              { value: 'rings', label: 'in rings, from the middle out' },
              { value: 'lines', label: 'in lines, and along the wall' },
            ]}
            onchange={(v) => change(cut.id, 'pocket', 'Pattern', (c) => void (c.pattern = v))}
          />
          {#if cut.pattern === 'lines'}
            <NumberField
              label="Lines turned by"
              value={cut.angle}
              unit="degrees"
              min={-360}
              max={360}
              step={0.1}
              onchange={(v) => change(cut.id, 'pocket', 'Angle of lines', (c) => void (c.angle = v))}
            />
          {/if}
          <LengthField
            label="Left on the wall for a last pass"
            value={cut.allowance}
            {unit}
            min={0}
            onchange={(v) => change(cut.id, 'pocket', 'Finishing allowance', (c) => void (c.allowance = v))}
          />
          <Choice
            label="The bit comes down"
            value={cut.entry}
            options={[
              { value: 'auto', label: 'as fits best' },
              { value: 'helix', label: 'in a helix' },
              { value: 'ramp', label: 'along the pass' },
              { value: 'straight', label: 'straight' },
            ]}
            onchange={(v) => change(cut.id, 'pocket', 'Entry', (c) => void (c.entry = v))}
          />
          <Choice
            label="Cleared before by"
            value={cut.after ?? ''}
            options={[
              { value: '', label: 'nothing: clear it all' },
              ...Object.values(job.bits)
                .filter((b) => b.kind === 'end' && b.id !== cut.bit)
                .map((b) => ({ value: b.id, label: `${b.name || b.id}: only what it left` })),
            ]}
            onchange={(v) =>
              change(cut.id, 'pocket', 'Cleared before', (c) => {
                if (v) c.after = v;
                else delete c.after;
              })}
          />
          <Choice
            label="Direction"
            value={cut.direction}
            options={[
              { value: 'climb', label: 'climb' },
              { value: 'conventional', label: 'conventional' },
            ]}
            onchange={(v) => change(cut.id, 'pocket', 'Direction', (c) => void (c.direction = v))}
          />
        {:else if cut.kind === 'drill'}
          <LengthField
            label="Depth"
            value={cut.depth}
            {unit}
            min={0.05}
            placeholder="through"
            onclear={() => change(cut.id, 'drill', 'Drill through', (c) => void delete c.depth)}
            onchange={(v) => change(cut.id, 'drill', 'Depth', (c) => void (c.depth = v))}
          />
          <LengthField
            label="Depth of each peck"
            value={cut.peck}
            {unit}
            min={0.1}
            hint="After each the bit comes out to clear the chips. A hole wider than the bit is cut in a helix."
            onchange={(v) => change(cut.id, 'drill', 'Peck', (c) => void (c.peck = v))}
          />
        {:else if cut.kind === 'engrave'}
          <LengthField label="Depth" value={cut.depth} {unit} min={0.01} onchange={(v) => change(cut.id, 'engrave', 'Depth', (c) => void (c.depth = v))} />
          <LengthField
            label="Depth of each pass"
            value={cut.depthPerPass}
            {unit}
            min={0.01}
            hint="Along lines, and along the edges of shapes."
            onchange={(v) => change(cut.id, 'engrave', 'Depth per pass', (c) => void (c.depthPerPass = v))}
          />
        {:else}
          <Choice
            label="Bit runs"
            value={cut.side}
            options={[
              { value: 'outside', label: 'outside the line (keeps the part)' },
              { value: 'inside', label: 'inside the line (makes an opening)' },
              { value: 'on', label: 'on the line (a groove)' },
            ]}
            onchange={(v) => change(cut.id, 'profile', 'Side', (c) => void (c.side = v))}
          />
          <LengthField
            label="Depth"
            value={cut.depth}
            {unit}
            min={0.05}
            placeholder="through"
            hint={cut.depth === undefined ? `Empty: through the board, ${len(boardThickness(job.board) + cut.throughAllowance, unit)}.` : undefined}
            onclear={() => change(cut.id, 'profile', 'Cut through', (c) => void delete c.depth)}
            onchange={(v) => change(cut.id, 'profile', 'Depth', (c) => void (c.depth = v))}
          />
          {#if cut.depth === undefined}
            <LengthField
              label="Into the spoilboard"
              value={cut.throughAllowance}
              {unit}
              min={0}
              onchange={(v) => change(cut.id, 'profile', 'Cut-through allowance', (c) => void (c.throughAllowance = v))}
            />
          {/if}
          <LengthField
            label="Depth of each pass"
            value={cut.depthPerPass}
            {unit}
            min={0.05}
            onchange={(v) => change(cut.id, 'profile', 'Depth per pass', (c) => void (c.depthPerPass = v))}
          />
          <Choice
            label="Direction"
            value={cut.direction}
            options={[
              { value: 'climb', label: 'climb' },
              { value: 'conventional', label: 'conventional' },
            ]}
            onchange={(v) => change(cut.id, 'profile', 'Direction', (c) => void (c.direction = v))}
          />
          <NumberField
            label="Tabs"
            value={cut.tabs}
            unit="on a line"
            min={0}
            max={50}
            onchange={(v) => change(cut.id, 'profile', 'Tabs', (c) => void (c.tabs = v))}
          />
          {#if cut.tabs > 0}
            <LengthField
              label="Tab width"
              value={cut.tabWidth}
              {unit}
              min={0.2}
              onchange={(v) => change(cut.id, 'profile', 'Tab width', (c) => void (c.tabWidth = v))}
            />
            <LengthField
              label="Tab height"
              value={cut.tabHeight}
              {unit}
              min={0.1}
              onchange={(v) => change(cut.id, 'profile', 'Tab height', (c) => void (c.tabHeight = v))}
            />
          {/if}
        {/if}
        <NumberField label="Feed" value={cut.feed} unit="mm/min" min={10} max={50000} onchange={(v) => both(cut.id, 'Feed', (c) => void (c.feed = v))} />
        <NumberField
          label="Plunge"
          value={cut.plunge}
          unit="mm/min"
          min={10}
          max={50000}
          onchange={(v) => both(cut.id, 'Plunge', (c) => void (c.plunge = v))}
        />
        <NumberField
          label="Spindle"
          value={cut.speed}
          unit="rev/min"
          min={500}
          max={60000}
          note="Chip load {chipLoad(cut.feed, cut.speed, bit.flutes).toFixed(3)} mm, surface speed {surfaceSpeed(bit.diameter, cut.speed).toFixed(0)} m/min."
          onchange={(v) => both(cut.id, 'Spindle speed', (c) => void (c.speed = v))}
        />
        <div class="row">
          <button class="press" disabled={index === 0} onclick={() => move(cut.id, -1)}>Earlier</button>
          <button class="press" disabled={index === cuts.length - 1} onclick={() => move(cut.id, 1)}>Later</button>
          <button class="press" onclick={() => remove(cut.id)}>Delete this cut</button>
        </div>
      </div>
    {/if}
  </section>
{:else}
  <p class="quiet">No cut yet. A V-carve gives the words their shape, a pocket sinks a field, drilling makes holes, a profile cuts the sign out.</p>
{/each}
<div class="row">
  {#each KINDS as kind (kind)}
    <button class="press" disabled={bitsFor(kind).length === 0} onclick={() => add(kind)}>{ADD[kind]}</button>
  {/each}
</div>

<style>
  section {
    border-top: 1px solid var(--line);
  }
  .title {
    display: flex;
    width: 100%;
    align-items: center;
    gap: 0.8rem;
    padding: 0.6rem 0;
    text-align: left;
  }
  .order {
    border: 1px solid var(--line-strong);
    border-radius: 50%;
    width: 1.7rem;
    height: 1.7rem;
    display: grid;
    place-items: center;
  }
  .open .order {
    border-color: var(--accent);
    color: var(--accent);
  }
  .name {
    flex: 1;
  }
  small {
    display: block;
    color: var(--quiet);
  }
  .drawn {
    display: flex;
    gap: 1rem;
    align-items: center;
    padding-bottom: 0.5rem;
  }
  dl {
    flex: 1;
    font-size: 0.85rem;
  }
  dl div {
    display: flex;
    justify-content: space-between;
    gap: 0.5rem;
  }
  dt {
    color: var(--quiet);
  }
  dd {
    font-weight: 600;
    font-variant-numeric: tabular-nums;
    margin: 0;
  }
  .body {
    padding-bottom: 0.8rem;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 0.4rem;
    padding-top: 0.6rem;
  }
</style>
