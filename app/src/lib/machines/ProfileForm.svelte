<script lang="ts">
  /** A machine's profile, as its shop writes it down. */
  import type { LengthUnit } from '@kerbe/core/length';
  import { MachineProfile } from '@kerbe/core/machine';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { ask } from '$lib/ui/post';

  interface Props {
    id: string | null;
    profile: MachineProfile;
    unit: LengthUnit;
    mayEdit: boolean;
    /** The link of the simulated machine is its own. */
    fixedLink: boolean;
    onsaved: () => void;
  }
  let { id, profile, unit, mayEdit, fixedLink, onsaved }: Props = $props();
  // svelte-ignore state_referenced_locally
  const draft = $state(structuredClone($state.snapshot(profile)) as MachineProfile);
  let why = $state<string | null>(null);
  let saved = $state(false);
  const link = $derived(draft.link);
  async function save() {
    // What was left empty is not told.
    const { probe, greeting, status, states } = draft.link;
    Object.assign(draft.link, { probe: probe || undefined, greeting: greeting || undefined, status: status || undefined });
    draft.link.states = Object.fromEntries(Object.entries(states).filter(([, pattern]) => pattern));
    const answer = await ask(id ? `/api/machines/${id}` : '/api/machines', id ? 'PUT' : 'POST', $state.snapshot(draft));
    why = answer.ok ? null : answer.why;
    saved = answer.ok;
    if (answer.ok) onsaved();
  }
  const AXES = ['X', 'Y', 'Z'] as const;
  const WORDS = [
    ['ask', 'Ask for the status'],
    ['hold', 'Hold'],
    ['resume', 'Resume'],
    ['stop', 'Stop'],
    ['clear', 'Clear an alarm'],
    ['home', 'Home'],
  ] as const;
  const PATTERNS = [
    ['accepted', 'A line was taken'],
    ['refused', 'A line was refused, and why'],
    ['status', 'The status, by named groups'],
    ['probe', 'What it says of a touch'],
    ['greeting', 'What it says when switched on'],
  ] as const;
  const STATES = ['idle', 'run', 'hold', 'pause', 'home', 'alarm', 'estop'] as const;
</script>

<fieldset class="border-0" disabled={!mayEdit}>
  <label class="py-1 gap-2.5 grid grid-cols-[1fr_14.3rem] items-center text-sm"
    >Name <input class="input" maxlength="80" bind:value={draft.limits.name} /></label
  >
  <details class="py-1.5 border-t border-surface-200-800" open>
    <summary class="cursor-pointer font-semibold text-base">What it can do</summary>
    {#each AXES as axis, k (axis)}
      <LengthField label="Travel of {axis}" value={draft.limits.travel[k]} {unit} min={1} onchange={(v) => (draft.limits.travel[k] = v)} />
    {/each}
    {#each AXES as axis, k (axis)}
      <LengthField feed label="Fastest {axis}" value={draft.limits.maxSpeed[k]} {unit} min={10} max={200000} onchange={(v) => (draft.limits.maxSpeed[k] = v)} />
    {/each}
    {#each AXES as axis, k (axis)}
      <LengthField
        per="/s²"
        label="Acceleration of {axis}"
        value={draft.limits.acceleration[k]}
        {unit}
        min={1}
        max={50000}
        onchange={(v) => (draft.limits.acceleration[k] = v)}
      />
    {/each}
    <NumberField label="Work offsets it keeps" value={draft.offsets} min={1} max={9} onchange={(v) => (draft.offsets = v)} />
    <Choice
      label="Bits are changed"
      value={draft.change}
      options={[
        { value: 'hand', label: 'by hand' },
        { value: 'automatic', label: 'by itself' },
      ]}
      onchange={(v) => (draft.change = v)}
    />
  </details>
  <details class="py-1.5 border-t border-surface-200-800">
    <summary class="cursor-pointer font-semibold text-base">Spindle</summary>
    <Choice
      label="Is started"
      value={draft.spindle.control}
      options={[
        { value: 'program', label: 'by the program' },
        { value: 'hand', label: 'by hand, at its box' },
      ]}
      onchange={(v) => (draft.spindle.control = v)}
    />
    <NumberField label="Slowest" unit="rev/min" value={draft.spindle.min} min={0} max={100000} onchange={(v) => (draft.spindle.min = v)} />
    <NumberField label="Fastest" unit="rev/min" value={draft.limits.maxSpindle} min={1} max={100000} onchange={(v) => (draft.limits.maxSpindle = v)} />
    <NumberField
      label="S at full speed"
      unit="rev/min, or its own scale"
      value={draft.spindle.fullScale}
      min={1}
      max={1000000}
      onchange={(v) => (draft.spindle.fullScale = v)}
    />
    <NumberField label="Comes to speed in" unit="s" value={draft.limits.spindleSeconds} min={0} max={120} onchange={(v) => (draft.limits.spindleSeconds = v)} />
    <NumberField label="Warm-up" unit="s" value={draft.limits.warmUpSeconds} min={0} max={3600} onchange={(v) => (draft.limits.warmUpSeconds = v)} />
  </details>
  <details class="py-1.5 border-t border-surface-200-800">
    <summary class="cursor-pointer font-semibold text-base">Its bed</summary>
    {#each ['x', 'y', 'width', 'height'] as const as key (key)}
      <LengthField
        label={{ x: 'Usable from the left', y: 'Usable from the front', width: 'Usable width', height: 'Usable depth' }[key]}
        value={draft.limits.usable[key]}
        {unit}
        min={0}
        onchange={(v) => (draft.limits.usable[key] = v)}
      />
    {/each}
    <LengthField label="Parks at X" value={draft.limits.park[0]} {unit} min={0} onchange={(v) => (draft.limits.park[0] = v)} />
    <LengthField label="Parks at Y" value={draft.limits.park[1]} {unit} min={0} onchange={(v) => (draft.limits.park[1] = v)} />
    <Choice
      label="Home corner"
      value={draft.homeCorner}
      options={(['front left', 'front right', 'back left', 'back right'] as const).map((value) => ({ value, label: value }))}
      onchange={(v) => (draft.homeCorner = v)}
    />
    {#if draft.slots}
      <LengthField label="First slot at" value={draft.slots.first} {unit} min={0} onchange={(v) => draft.slots && (draft.slots.first = v)} />
      <LengthField label="From slot to slot" value={draft.slots.pitch} {unit} min={1} onchange={(v) => draft.slots && (draft.slots.pitch = v)} />
      <NumberField label="Slots" value={draft.slots.count} min={1} max={100} onchange={(v) => draft.slots && (draft.slots.count = v)} />
      <button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (draft.slots = null)}>It has no slots</button>
    {:else}<button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (draft.slots = { axis: 'y', first: 60, pitch: 120, count: 7 })}
        >It has slots</button
      >{/if}
    {#each ['vacuum', 'dust', 'pins', 'lid'] as const as key (key)}
      <label class="gap-2 flex items-center text-sm"
        ><input class="checkbox" type="checkbox" bind:checked={draft.has[key]} />
        {{ vacuum: 'a vacuum', dust: 'dust extraction', pins: 'location pins', lid: 'a lid' }[key]}</label
      >
    {/each}
  </details>
  <details class="py-1.5 border-t border-surface-200-800">
    <summary class="cursor-pointer font-semibold text-base">Sensor, plates, blocks, clamps</summary>
    {#if draft.sensor}
      {#each ['x', 'y', 'radius', 'height'] as const as key (key)}
        <LengthField
          label={{ x: 'Tool sensor at X', y: 'Tool sensor at Y', radius: 'Its radius', height: 'Its height' }[key]}
          value={draft.sensor[key]}
          {unit}
          min={0}
          onchange={(v) => draft.sensor && (draft.sensor[key] = v)}
        />
      {/each}
      <button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (draft.sensor = null)}>It has no tool sensor</button>
    {:else}<button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (draft.sensor = { x: 40, y: 40, radius: 10, height: 50 })}
        >It has a tool sensor</button
      >{/if}
    {#if draft.kind === 'laser'}
      {#if draft.pointer}
        {#each ['x', 'y'] as const as key (key)}
          <LengthField
            label="Pointer from the beam, {key.toUpperCase()}"
            value={draft.pointer[key]}
            {unit}
            onchange={(v) => draft.pointer && (draft.pointer[key] = v)}
          />
        {/each}
        <button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (draft.pointer = undefined)}>It shines along the beam</button>
      {:else}<button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (draft.pointer = { x: 0, y: 0 })}
          >Its pointer shines beside the beam</button
        >{/if}
    {/if}
    {#each draft.plates as plate, k (k)}
      <LengthField label="{plate.name}: thickness" value={plate.thickness} {unit} min={0.1} onchange={(v) => (draft.plates[k].thickness = v)} />
    {/each}
    {#each draft.blocks as block, k (k)}
      <LengthField label="{block.name}: thickness" value={block.thickness} {unit} min={0.1} onchange={(v) => (draft.blocks[k].thickness = v)} />
      <LengthField label="{block.name}: lip" value={block.lip} {unit} min={0.1} onchange={(v) => (draft.blocks[k].lip = v)} />
    {/each}
    {#each draft.devices as device, k (k)}
      <div class="my-1.5 border-l-2 border-surface-200-800 pl-2.5">
        <input class="input" aria-label="Name of what holds boards" bind:value={device.name} />
        <LengthField label="wide" value={device.width} {unit} min={1} max={2000} onchange={(v) => (draft.devices[k].width = v)} />
        <LengthField label="deep" value={device.depth} {unit} min={1} max={2000} onchange={(v) => (draft.devices[k].depth = v)} />
        <LengthField label="high above the board" value={device.height} {unit} min={0} max={200} onchange={(v) => (draft.devices[k].height = v)} />
        <button type="button" class="btn preset-outlined-surface-300-700" onclick={() => draft.devices.splice(k, 1)}>Not any more</button>
      </div>
    {/each}
    <button
      type="button"
      class="btn preset-outlined-surface-300-700"
      onclick={() => draft.devices.push({ name: 'Clamp', kind: 'clamp', width: 30, depth: 60, height: 20 })}>One more that holds boards</button
    >
  </details>
  <details class="py-1.5 border-t border-surface-200-800">
    <summary class="cursor-pointer font-semibold text-base">How it is talked to</summary>
    {#if fixedLink}
      <p class="text-surface-600-400">The simulated machine speaks Kerbe’s own protocol over the network of this computer; nothing to set.</p>
    {:else}
      <Choice
        label="Cable"
        value={link.transport.kind}
        options={[
          { value: 'tcp', label: 'network (TCP)' },
          { value: 'serial', label: 'serial port' },
        ]}
        onchange={(v) =>
          (draft.link.transport = v === 'tcp' ? { kind: 'tcp', host: '127.0.0.1', port: 4001 } : { kind: 'serial', path: '/dev/ttyUSB0', baud: 115200 })}
      />
      {#if link.transport.kind === 'tcp'}
        <label class="py-1 gap-2.5 grid grid-cols-[1fr_14.3rem] items-center text-sm">Computer <input class="input" bind:value={link.transport.host} /></label>
        <NumberField
          label="Port"
          value={link.transport.port}
          min={1}
          max={65535}
          onchange={(v) => link.transport.kind === 'tcp' && (link.transport.port = v)}
        />
      {:else}
        <label class="py-1 gap-2.5 grid grid-cols-[1fr_14.3rem] items-center text-sm">Port <input class="input" bind:value={link.transport.path} /></label>
        <NumberField
          label="Speed"
          unit="baud"
          value={link.transport.baud}
          min={300}
          max={4000000}
          onchange={(v) => link.transport.kind === 'serial' && (link.transport.baud = v)}
        />
      {/if}
      <Choice
        label="Protocol"
        value={link.talk}
        options={[
          { value: 'kerbe', label: 'Kerbe’s own, numbered' },
          { value: 'plain', label: 'plain lines, each answered' },
        ]}
        onchange={(v) => (draft.link.talk = v)}
      />
      <Choice
        label="Lines end with"
        value={link.lineEnd}
        options={[
          { value: 'lf', label: 'LF' },
          { value: 'cr', label: 'CR' },
          { value: 'crlf', label: 'CR LF' },
        ]}
        onchange={(v) => (draft.link.lineEnd = v)}
      />
      <NumberField label="Lines on the way" value={link.lines} min={1} max={500} onchange={(v) => (draft.link.lines = v)} />
      <NumberField
        label="Bytes on the way"
        unit="0: no bound"
        value={link.bytes ?? 0}
        min={0}
        max={1000000}
        onchange={(v) => (draft.link.bytes = v >= 20 ? v : undefined)}
      />
      {#if link.talk === 'plain'}
        <p class="text-surface-600-400">
          Bytes: \n, \r and \xNN as in a program. Patterns: regular expressions; the status names state, x, y, z, and when told wx, wy, wz; a touch names x, y,
          z, and when told touched.
        </p>
        {#each WORDS as [key, label] (key)}<label class="py-1 gap-2.5 grid grid-cols-[1fr_14.3rem] items-center text-sm"
            >{label} <input class="input font-mono text-sm" bind:value={draft.link[key]} /></label
          >{/each}
        {#each PATTERNS as [key, label] (key)}<label class="py-1 gap-2.5 grid grid-cols-[1fr_14.3rem] items-center text-sm"
            >{label} <input class="input font-mono text-sm" bind:value={draft.link[key]} /></label
          >{/each}
        {#each STATES as state (state)}<label class="py-1 gap-2.5 grid grid-cols-[1fr_14.3rem] items-center text-sm"
            >It says of “{state}” <input class="input font-mono text-sm" bind:value={draft.link.states[state]} /></label
          >{/each}
        <p class="caution">Tried against stand-ins only, on no hardware. Begin with the motors off, the hand on the red button, and the raw talk in view.</p>
      {/if}
    {/if}
  </details>
  <label class="py-1 gap-2.5 grid grid-cols-[1fr_14.3rem] items-center text-sm"
    >Notes <textarea class="textarea input" rows="2" maxlength="4000" bind:value={draft.notes}></textarea></label
  >
</fieldset>
{#if why}<p class="caution" role="alert">{why}</p>{/if}
{#if mayEdit}<button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={save}>Keep it</button>{/if}
{#if saved && !why}<span role="status">Kept.</span>{/if}
