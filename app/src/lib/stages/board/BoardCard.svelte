<script lang="ts">
  import { resizedBoard } from '@kerbe/core/artwork/board';
  import { plansAlike } from '@kerbe/core/machine';
  import type { MachineView } from '../types';
  import type { Holder } from '@kerbe/core/job';
  import type { JobSession } from '$lib/job/session.svelte';
  import { processOf } from '@kerbe/core/process';
  import { materialsFor } from '$lib/shop/materials';
  import { boardPrice, boardWeight, materialNamed, type Leftover, type ShopMaterial } from '@kerbe/core/board/materials';
  import NewMaterial from './NewMaterial.svelte';
  import TilesForm from './TilesForm.svelte';
  import Gauge from '$lib/ui/Gauge.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import { len, num, openings, weight } from '$lib/ui/format';
  import { COMMON } from '$lib/labels/common';
  import { BOARD } from '$lib/labels/board';

  interface Props {
    session: JobSession;
    last: Holder[];
    shop: MachineView;
    machines: MachineView[];
    /** What the shop says of materials, and what stands before its prices. */
    materials: readonly ShopMaterial[];
    currency: string;
    /** Pieces that are left in the shop. */
    leftovers: readonly Leftover[];
  }
  let { session, last, shop, machines, materials, currency, leftovers }: Props = $props();
  const facts = $derived(materialNamed(session.job.board.material, materials));
  const job = $derived(session.job);
  const unit = $derived(job.units);
  const board = $derived(job.board);
  const torch = $derived(job.process === 'torch');
  const router = $derived(job.process === 'router');
  const lies = $derived(processOf(job).header.lies.toLowerCase());
  const slats = $derived(board.slats ?? { along: 'y' as const, pitch: 100, first: 50, thick: 4 });
  const SLATS = [
    ['pitch', BOARD.betweenSlats, 1],
    ['first', BOARD.firstSlat, undefined],
    ['thick', BOARD.slatThickness, 0.5],
  ] as const;
  const corners = [BOARD.atFrontLeft, BOARD.atFrontRight, BOARD.atBackRight, BOARD.atBackLeft];
  const spread = $derived(board.measured ? Math.max(...board.measured) - Math.min(...board.measured) : null);

  /** The drawing stays about the middle of the board. */
  function resize(label: string, size: { width?: number; height?: number }) {
    const next = resizedBoard(job, size);
    session.edit(label, (d) => {
      d.board = next.board;
      for (const id of Object.keys(next.items)) d.items[id] = next.items[id];
    });
  }
  /** In the list of materials: one that is not in it yet. No material is called that. */
  const ANOTHER = ' another';
  let adding = $state(false);
  const takeMaterial = (name: string) => session.edit(COMMON.material, (d) => void (d.board.material = name));
  /** Pieces of the same material that are left: remnants with their openings too. */
  const remnants = $derived(leftovers.filter(({ material }) => material.toLowerCase() === board.material.toLowerCase()));
  const called = ({ width, height, thickness, place, gone }: Leftover) =>
    `${[width, height].map((mm) => num(mm, unit)).join(' × ')} × ${len(thickness, unit)}${place ? `: ${place}` : ''}${gone ? `, ${openings(gone.length)}` : ''}`;
  function takePiece({ width, height, thickness, gone }: Leftover) {
    const next = resizedBoard(job, { width, height });
    session.edit(BOARD.onAPieceThatIs, (d) => {
      d.board = { ...next.board, thickness };
      delete d.board.measured;
      if (gone) d.board.gone = structuredClone($state.snapshot(gone)) as number[][];
      else delete d.board.gone;
      for (const id of Object.keys(next.items)) d.items[id] = next.items[id];
    });
  }
  function measure(index: number, mm: number) {
    session.edit(BOARD.measuredThickness, (d) => {
      d.board.measured ??= [d.board.thickness, d.board.thickness, d.board.thickness, d.board.thickness];
      d.board.measured[index] = mm;
    });
  }
  /** Machines that do what this job asks for. */
  const alike = $derived(machines.filter(({ profile }) => profile.kind === job.process));
  function planFor({ id, name, profile }: MachineView) {
    session.edit(BOARD.planFor(name), (d) => void (d.machine = { ...structuredClone($state.snapshot(profile.limits)), id }));
  }
  const KIND = { clamp: 'Clamp', screw: 'Screw', fence: 'Fence', pin: 'Location pin' };
  const PLACE = [
    ['x', 'Middle, from the left edge'],
    ['y', 'Middle, from the front edge'],
    ['width', 'Wide'],
    ['depth', 'Deep'],
    ['height', 'Stands above the board'],
  ] as const;
  /** A new one where it mostly stands: clamps over the left edge, screws in the corners, fences behind the board, pins along the edges it is pushed against. */
  function addHolder(kind: Holder['kind']) {
    const { width, height, holdDownHeight } = board;
    const size = { clamp: [40, 25], screw: [9, 9], fence: [width, 18], pin: [12, 12] }[kind];
    const same = board.holders.filter((one) => one.kind === kind).length;
    const corner = [
      [10, 10],
      [width - 10, height - 10],
      [width - 10, 10],
      [10, height - 10],
    ][same % 4];
    // Two along the left edge and one at the front square the board.
    const pins = [
      [-6, height / 4],
      [-6, (3 * height) / 4],
      [width / 2, -6],
    ];
    const at = { clamp: [same % 2 ? width : 0, height / 2], screw: corner, fence: [width / 2, height + 9], pin: pins[same % 3] }[kind];
    session.edit(
      BOARD.addA(kind),
      (d) => void d.board.holders.push({ kind, x: at[0], y: at[1], width: size[0], depth: size[1], height: holdDownHeight || (kind === 'screw' ? 0 : 12) }),
    );
  }
</script>

<h2>{BOARD.boardTitle(lies)}</h2>
{#if alike.length > 1}
  <Choice
    label={COMMON.machine}
    value={shop.id}
    options={alike.map(({ id, name, connected }) => ({ value: id, label: connected ? name : BOARD.notLinked(name) }))}
    onchange={(id) => planFor(alike.find((one) => one.id === id)!)}
  />
{/if}
{#if !plansAlike(job.machine, shop.profile.limits)}
  <p class="caution">Planned for {job.machine.name}; {shop.name} has other limits.</p>
  <button class="btn preset-outlined-surface-300-700" onclick={() => planFor(shop)}>{BOARD.planItFor(shop.name)}</button>
{/if}
<Choice
  label={torch ? BOARD.metal : router ? BOARD.woodOrOtherMaterial : COMMON.material}
  value={adding ? ANOTHER : board.material}
  options={[...materialsFor(job.process, board.material, materials).map((m) => ({ value: m, label: m })), { value: ANOTHER, label: BOARD.another }]}
  onchange={(m) => {
    adding = m === ANOTHER;
    if (!adding) takeMaterial(m);
  }}
/>
{#if adding}
  <NewMaterial
    process={job.process}
    own={board.material}
    thickness={board.thickness}
    {materials}
    onadded={(name) => {
      takeMaterial(name);
      adding = false;
    }}
    oncancel={() => (adding = false)}
  />
{/if}
{#if facts}
  <p class="text-sm text-surface-600-400">
    {[
      facts.density !== null ? weight(boardWeight(board, facts.density), unit) : '',
      facts.price !== null ? `${currency}${boardPrice(board, facts.price).toFixed(2)}` : '',
      facts.care,
    ]
      .filter(Boolean)
      .join(', ')}
    <a class="underline" href="/materials">{COMMON.materials}</a>
  </p>
{/if}
<LengthField label={COMMON.widthLeftToRight} value={board.width} {unit} min={1} onchange={(width) => resize('Board width', { width })} />
<LengthField label={COMMON.heightFrontToBack} value={board.height} {unit} min={1} onchange={(height) => resize('Board depth', { height })} />
<LengthField
  label={COMMON.thickness}
  value={board.thickness}
  {unit}
  min={0.5}
  onchange={(v) => session.edit(COMMON.thickness, (d) => void (d.board.thickness = v))}
/>
{#if board.gone}
  <p>
    A remnant: {openings(board.gone.length)} in it already. Pieces are laid out beside them, and no arc may come over them.
  </p>
  <button class="btn preset-outlined-surface-300-700" onclick={() => session.edit(BOARD.aWhole(lies), (d) => void delete d.board.gone)}
    >{BOARD.itIsAWhole(lies)}</button
  >
{/if}
{#if remnants.length > 0}
  <Choice
    label={COMMON.orAPieceThatIs}
    value=""
    options={[{ value: '', label: BOARD.aPieceOfTheShop }, ...remnants.map((one) => ({ value: one.id, label: called(one) }))]}
    onchange={(id) => {
      const piece = remnants.find((one) => one.id === id);
      if (piece) takePiece(piece);
    }}
  />
{/if}
{#if torch}
  <Gauge thickness={board.thickness} {unit} onchange={(mm) => session.edit(BOARD.gauge, (d) => void (d.board.thickness = mm))} />
  <p class="text-surface-600-400">
    The cut chart is read anew for another thickness: press
    <i>Use the chart’s figures</i> on the cut.
  </p>
  <h3>{BOARD.slatsOfTheTable}</h3>
  <Choice
    label={BOARD.directionOfTheSlats}
    value={slats.along}
    options={[
      { value: 'y', label: BOARD.frontToBack },
      { value: 'x', label: COMMON.leftToRight },
    ]}
    onchange={(along) => session.edit(BOARD.directionOfTheSlats, (d) => void (d.board.slats = { ...slats, along }))}
  />
  {#each SLATS as [key, label, min] (key)}
    <LengthField {label} value={slats[key]} {unit} {min} onchange={(v) => session.edit(label, (d) => void (d.board.slats = { ...slats, [key]: v }))} />
  {/each}
  <p class="text-surface-600-400">Whether a piece lies, tips or falls when it comes free is reckoned from them.</p>
{:else if router}
  {@render wood()}
{:else}
  <TilesForm {session} />
  <p class="text-surface-600-400">
    What its maker does not name must not meet a laser: PVC and vinyl, polycarbonate, ABS and carbon fibre never do. Local rules and the laser’s manual come
    first.
  </p>
{/if}
{#snippet wood()}
  <h3>{BOARD.thicknessAtTheFourCorners}</h3>
  {#if board.measured}
    {#each corners as corner, i (corner)}
      <LengthField label={corner} value={board.measured[i]} {unit} min={0.5} onchange={(v) => measure(i, v)} />
    {/each}
    <p class="text-surface-600-400">
      Spread {len(spread!, unit)}. Zero Z on the highest corner; through cuts reckon with the thickest reading, {len(Math.max(...board.measured), unit)}.
    </p>
    <button class="btn preset-outlined-surface-300-700" onclick={() => session.edit(BOARD.noMeasuredThickness, (d) => void delete d.board.measured)}
      >{COMMON.clearReadings}</button
    >
  {:else}
    <p class="text-surface-600-400">Four readings with the calliper show whether a shallow carve will fade where the board is low.</p>
    <button class="btn preset-outlined-surface-300-700" onclick={() => measure(0, board.thickness)}>{BOARD.enterFourReadings}</button>
  {/if}

  <h3>{BOARD.underIt}</h3>
  <label class="flex items-center gap-2 py-1.5 text-sm"
    ><input
      class="checkbox"
      type="checkbox"
      checked={board.carrier !== undefined}
      onchange={(e) => {
        const on = e.currentTarget.checked;
        session.edit(on ? BOARD.onACarrier : BOARD.withoutACarrier, (d) => {
          if (on) d.board.carrier = { thickness: 12 };
          else delete d.board.carrier;
        });
      }}
    />
    {BOARD.itIsFixedToA}</label
  >
  {#if board.carrier}
    <LengthField
      label={BOARD.carrierThickness}
      value={board.carrier.thickness}
      {unit}
      min={1}
      hint={BOARD.zFromTheSpoilboardCounts}
      onchange={(v) => session.edit(BOARD.carrierThickness, (d) => void (d.board.carrier = { thickness: v }))}
    />
  {:else}<p class="text-surface-600-400">A small board is screwed or taped to a larger one that vacuum, clamps or pins can hold.</p>{/if}
{/snippet}

<h3>{router ? BOARD.howItIsHeldAnd : BOARD.whereZeroIs}</h3>
{#if router}<Choice
    label={BOARD.heldDownBy}
    value={board.holdDown}
    options={[
      { value: 'screws', label: BOARD.screwsOutsideTheSign },
      { value: 'clamps', label: BOARD.clamps },
      { value: 'tape', label: BOARD.tapeAndGlueNoTabs },
      { value: 'vacuum', label: BOARD.vacuum },
    ]}
    onchange={(v) => session.edit(BOARD.holdDown, (d) => void (d.board.holdDown = v))}
  />{/if}
{#if board.holdDown === 'clamps' || board.holdDown === 'screws'}
  <LengthField
    label={BOARD.itStandsAboveTheBoard}
    value={board.holdDownHeight}
    {unit}
    min={0}
    hint={board.holdDownHeight >= job.program.clearance ? BOARD.travelGoesLowerThanThat : undefined}
    onchange={(v) => session.edit(BOARD.heightOfTheHoldDown, (d) => void (d.board.holdDownHeight = v))}
  />
{/if}
{#if board.holders.length === 0 && last.length > 0}
  <button
    class="btn preset-outlined-surface-300-700"
    onclick={() => session.edit(BOARD.heldAsTheLastBoard, (d) => void (d.board.holders = structuredClone(last)))}>{BOARD.asTheLastBoardWas(last.length)}</button
  >
{/if}
<div>
  {#each board.holders as holder, k (k)}
    <fieldset class="border-t border-r-0 border-b-0 border-l-0 border-surface-200-800 pt-1.5 pb-2.5">
      <legend class="text-sm font-semibold pr-2">{KIND[holder.kind]} {k + 1}</legend>
      {#each PLACE as [key, label] (key)}
        <LengthField
          {label}
          value={holder[key]}
          {unit}
          min={key === 'width' || key === 'depth' ? 1 : undefined}
          onchange={(v) => session.edit(BOARD.moveThe(holder.kind), (d) => void (d.board.holders[k][key] = v), `holder-${k}-${key}`)}
        />
      {/each}
      <button
        class="btn preset-outlined-surface-300-700"
        aria-label={BOARD.removeHolder(KIND[holder.kind], k + 1)}
        onclick={() => session.edit(BOARD.removeThe(holder.kind), (d) => void d.board.holders.splice(k, 1))}>{COMMON.remove}</button
      >
    </fieldset>
  {:else}
    <p class="text-surface-600-400">
      Say where clamps, screws, fences and location pins are: cuts, travel, the frame and the touch plate are checked against them.
    </p>
  {/each}
  <div class="gap-1.5 flex flex-wrap pt-1.5 pb-2.5">
    {#each ['clamp', 'screw', 'fence', 'pin'] as const as kind (kind)}<button class="btn preset-outlined-surface-300-700" onclick={() => addHolder(kind)}
        >{BOARD.addA(KIND[kind].toLowerCase())}</button
      >{/each}
  </div>
</div>
<Choice
  label={BOARD.xAndYZeroAt}
  value={job.datum.corner}
  options={[
    { value: 'lower-left', label: BOARD.frontLeftCorner },
    { value: 'lower-right', label: BOARD.frontRightCorner },
    { value: 'upper-left', label: BOARD.backLeftCorner },
    { value: 'upper-right', label: BOARD.backRightCorner },
    { value: 'centre', label: BOARD.middleOfTheBoard },
  ]}
  onchange={(v) => session.edit(BOARD.datum, (d) => void (d.datum.corner = v))}
/>
{#if router}<Choice
    label={BOARD.zZeroOn}
    value={job.datum.z}
    options={[
      { value: 'top', label: BOARD.topOfTheBoard },
      { value: 'spoilboard', label: BOARD.theSpoilboard },
    ]}
    onchange={(v) => session.edit(BOARD.zDatum, (d) => void (d.datum.z = v))}
  />
  <p class="text-surface-600-400">
    {job.datum.z === 'top'
      ? 'From the top, carving depth is true even when the thickness is a guess.'
      : 'From the spoilboard, through cuts leave it hardly marked; the measured thickness must be right.'}
  </p>{/if}
