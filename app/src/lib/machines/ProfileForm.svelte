<script lang="ts">
  /** A machine's profile, as its shop writes it down. */
  import type { LengthUnit } from '@kerbe/core/length';
  import { MachineProfile } from '@kerbe/core/machine';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { ask } from '$lib/ui/post';
  import { COMMON } from '$lib/labels/common';
  import { MACHINES } from '$lib/labels/machines';

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
    >{COMMON.name} <input class="input" maxlength="80" bind:value={draft.limits.name} /></label
  >
  <details class="py-1.5 border-t border-surface-200-800" open>
    <summary class="cursor-pointer font-semibold text-base">{MACHINES.capabilities}</summary>
    {#each AXES as axis, k (axis)}
      <LengthField label={MACHINES.travelOf(axis)} value={draft.limits.travel[k]} {unit} min={1} onchange={(v) => (draft.limits.travel[k] = v)} />
    {/each}
    {#each AXES as axis, k (axis)}
      <LengthField
        feed
        label={MACHINES.maximumSpeedOf(axis)}
        value={draft.limits.maxSpeed[k]}
        {unit}
        min={10}
        max={200000}
        onchange={(v) => (draft.limits.maxSpeed[k] = v)}
      />
    {/each}
    {#each AXES as axis, k (axis)}
      <LengthField
        per="/s²"
        label={MACHINES.accelerationOf(axis)}
        value={draft.limits.acceleration[k]}
        {unit}
        min={1}
        max={50000}
        onchange={(v) => (draft.limits.acceleration[k] = v)}
      />
    {/each}
    <NumberField label={MACHINES.workOffsetsItKeeps} value={draft.offsets} min={1} max={9} onchange={(v) => (draft.offsets = v)} />
    <Choice
      label={COMMON.bitChanges}
      value={draft.change}
      options={[
        { value: 'hand', label: COMMON.byHand },
        { value: 'automatic', label: MACHINES.byItself },
      ]}
      onchange={(v) => (draft.change = v)}
    />
  </details>
  <details class="py-1.5 border-t border-surface-200-800">
    <summary class="cursor-pointer font-semibold text-base">{COMMON.spindle}</summary>
    <Choice
      label={MACHINES.started}
      value={draft.spindle.control}
      options={[
        { value: 'program', label: MACHINES.byTheProgram },
        { value: 'hand', label: MACHINES.byHandAtItsBox },
      ]}
      onchange={(v) => (draft.spindle.control = v)}
    />
    <NumberField label={MACHINES.minimumSpeed} unit={COMMON.revMin} value={draft.spindle.min} min={0} max={100000} onchange={(v) => (draft.spindle.min = v)} />
    <NumberField
      label={COMMON.maximumSpeed}
      unit={COMMON.revMin}
      value={draft.limits.maxSpindle}
      min={1}
      max={100000}
      onchange={(v) => (draft.limits.maxSpindle = v)}
    />
    <NumberField
      label={MACHINES.sAtFullSpeed}
      unit={MACHINES.revMinOrItsOwn}
      value={draft.spindle.fullScale}
      min={1}
      max={1000000}
      onchange={(v) => (draft.spindle.fullScale = v)}
    />
    <NumberField
      label={MACHINES.spinUpTime}
      unit="s"
      value={draft.limits.spindleSeconds}
      min={0}
      max={120}
      onchange={(v) => (draft.limits.spindleSeconds = v)}
    />
    <NumberField label={MACHINES.warmUp} unit="s" value={draft.limits.warmUpSeconds} min={0} max={3600} onchange={(v) => (draft.limits.warmUpSeconds = v)} />
  </details>
  <details class="py-1.5 border-t border-surface-200-800">
    <summary class="cursor-pointer font-semibold text-base">{MACHINES.bed}</summary>
    {#each ['x', 'y', 'width', 'height'] as const as key (key)}
      <LengthField
        label={{ x: 'Usable from the left', y: 'Usable from the front', width: 'Usable width', height: 'Usable depth' }[key]}
        value={draft.limits.usable[key]}
        {unit}
        min={0}
        onchange={(v) => (draft.limits.usable[key] = v)}
      />
    {/each}
    <LengthField label={MACHINES.parksAtX} value={draft.limits.park[0]} {unit} min={0} onchange={(v) => (draft.limits.park[0] = v)} />
    <LengthField label={MACHINES.parksAtY} value={draft.limits.park[1]} {unit} min={0} onchange={(v) => (draft.limits.park[1] = v)} />
    <Choice
      label={MACHINES.homeCorner}
      value={draft.homeCorner}
      options={(['front left', 'front right', 'back left', 'back right'] as const).map((value) => ({ value, label: value }))}
      onchange={(v) => (draft.homeCorner = v)}
    />
    {#if draft.slots}
      <LengthField label={MACHINES.firstSlotAt} value={draft.slots.first} {unit} min={0} onchange={(v) => draft.slots && (draft.slots.first = v)} />
      <LengthField label={MACHINES.fromSlotToSlot} value={draft.slots.pitch} {unit} min={1} onchange={(v) => draft.slots && (draft.slots.pitch = v)} />
      <NumberField label={MACHINES.slots} value={draft.slots.count} min={1} max={100} onchange={(v) => draft.slots && (draft.slots.count = v)} />
      <button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (draft.slots = null)}>{MACHINES.removeTheToolSlots}</button>
    {:else}<button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (draft.slots = { axis: 'y', first: 60, pitch: 120, count: 7 })}
        >{MACHINES.addToolSlots}</button
      >{/if}
    {#each ['vacuum', 'dust', 'pins', 'lid'] as const as key (key)}
      <label class="gap-2 flex items-center text-sm"
        ><input class="checkbox" type="checkbox" bind:checked={draft.has[key]} />
        {{ vacuum: 'a vacuum', dust: 'dust extraction', pins: 'location pins', lid: 'a lid' }[key]}</label
      >
    {/each}
  </details>
  <details class="py-1.5 border-t border-surface-200-800">
    <summary class="cursor-pointer font-semibold text-base">{MACHINES.sensorPlatesBlocksClamps}</summary>
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
      <button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (draft.sensor = null)}>{MACHINES.removeTheToolSensor}</button>
    {:else}<button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (draft.sensor = { x: 40, y: 40, radius: 10, height: 50 })}
        >{MACHINES.addAToolSensor}</button
      >{/if}
    {#if draft.kind === 'laser'}
      {#if draft.pointer}
        {#each ['x', 'y'] as const as key (key)}
          <LengthField
            label={MACHINES.pointerFromTheBeam(key.toUpperCase())}
            value={draft.pointer[key]}
            {unit}
            onchange={(v) => draft.pointer && (draft.pointer[key] = v)}
          />
        {/each}
        <button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (draft.pointer = undefined)}>{MACHINES.itShinesAlongTheBeam}</button>
      {:else}<button type="button" class="btn preset-outlined-surface-300-700" onclick={() => (draft.pointer = { x: 0, y: 0 })}
          >{MACHINES.itsPointerShinesBesideThe}</button
        >{/if}
    {/if}
    {#each draft.plates as plate, k (k)}
      <LengthField label={MACHINES.thicknessOf(plate.name)} value={plate.thickness} {unit} min={0.1} onchange={(v) => (draft.plates[k].thickness = v)} />
    {/each}
    {#each draft.blocks as block, k (k)}
      <LengthField label={MACHINES.thicknessOf(block.name)} value={block.thickness} {unit} min={0.1} onchange={(v) => (draft.blocks[k].thickness = v)} />
      <LengthField label={MACHINES.lipOf(block.name)} value={block.lip} {unit} min={0.1} onchange={(v) => (draft.blocks[k].lip = v)} />
    {/each}
    {#each draft.devices as device, k (k)}
      <div class="my-1.5 border-l-2 border-surface-200-800 pl-2.5">
        <input class="input" aria-label={MACHINES.nameOfTheClampVice} bind:value={device.name} />
        <LengthField label={MACHINES.wide} value={device.width} {unit} min={1} max={2000} onchange={(v) => (draft.devices[k].width = v)} />
        <LengthField label={MACHINES.deep} value={device.depth} {unit} min={1} max={2000} onchange={(v) => (draft.devices[k].depth = v)} />
        <LengthField label={MACHINES.highAboveTheBoard} value={device.height} {unit} min={0} max={200} onchange={(v) => (draft.devices[k].height = v)} />
        <button type="button" class="btn preset-outlined-surface-300-700" onclick={() => draft.devices.splice(k, 1)}>{COMMON.remove}</button>
      </div>
    {/each}
    <button
      type="button"
      class="btn preset-outlined-surface-300-700"
      onclick={() => draft.devices.push({ name: 'Clamp', kind: 'clamp', width: 30, depth: 60, height: 20 })}>{MACHINES.addAClampViceOr}</button
    >
  </details>
  <details class="py-1.5 border-t border-surface-200-800">
    <summary class="cursor-pointer font-semibold text-base">{MACHINES.connection}</summary>
    {#if fixedLink}
      <p class="text-surface-600-400">The simulated machine speaks Kerbe’s own protocol over the network of this computer; nothing to set.</p>
    {:else}
      <Choice
        label={MACHINES.cable}
        value={link.transport.kind}
        options={[
          { value: 'tcp', label: MACHINES.networkTcp },
          { value: 'serial', label: MACHINES.serialPort },
        ]}
        onchange={(v) =>
          (draft.link.transport = v === 'tcp' ? { kind: 'tcp', host: '127.0.0.1', port: 4001 } : { kind: 'serial', path: '/dev/ttyUSB0', baud: 115200 })}
      />
      {#if link.transport.kind === 'tcp'}
        <label class="py-1 gap-2.5 grid grid-cols-[1fr_14.3rem] items-center text-sm"
          >{MACHINES.computer} <input class="input" bind:value={link.transport.host} /></label
        >
        <NumberField
          label={MACHINES.port}
          value={link.transport.port}
          min={1}
          max={65535}
          onchange={(v) => link.transport.kind === 'tcp' && (link.transport.port = v)}
        />
      {:else}
        <label class="py-1 gap-2.5 grid grid-cols-[1fr_14.3rem] items-center text-sm"
          >{MACHINES.port} <input class="input" bind:value={link.transport.path} /></label
        >
        <NumberField
          label={COMMON.speed}
          unit={MACHINES.baud}
          value={link.transport.baud}
          min={300}
          max={4000000}
          onchange={(v) => link.transport.kind === 'serial' && (link.transport.baud = v)}
        />
      {/if}
      <Choice
        label={MACHINES.protocol}
        value={link.talk}
        options={[
          { value: 'kerbe', label: MACHINES.kerbesOwnNumbered },
          { value: 'plain', label: MACHINES.plainLinesEachAnswered },
        ]}
        onchange={(v) => (draft.link.talk = v)}
      />
      <Choice
        label={COMMON.lineEndings}
        value={link.lineEnd}
        options={[
          { value: 'lf', label: 'LF' },
          { value: 'cr', label: 'CR' },
          { value: 'crlf', label: COMMON.crLf },
        ]}
        onchange={(v) => (draft.link.lineEnd = v)}
      />
      <NumberField label={MACHINES.linesSentAhead} value={link.lines} min={1} max={500} onchange={(v) => (draft.link.lines = v)} />
      <NumberField
        label={MACHINES.bytesSentAhead}
        unit={MACHINES.n0NoLimit}
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
            >{MACHINES.itsWordFor(state)} <input class="input font-mono text-sm" bind:value={draft.link.states[state]} /></label
          >{/each}
        <p class="caution">Tried against stand-ins only, on no hardware. Begin with the motors off, the hand on the red button, and the raw talk in view.</p>
      {/if}
    {/if}
  </details>
  <label class="py-1 gap-2.5 grid grid-cols-[1fr_14.3rem] items-center text-sm"
    >{MACHINES.notes} <textarea class="textarea input" rows="2" maxlength="4000" bind:value={draft.notes}></textarea></label
  >
</fieldset>
{#if why}<p class="caution" role="alert">{why}</p>{/if}
{#if mayEdit}<button class="btn preset-filled-brand px-4 py-2.5 font-semibold" onclick={save}>{COMMON.save}</button>{/if}
{#if saved && !why}<span role="status">Kept.</span>{/if}
