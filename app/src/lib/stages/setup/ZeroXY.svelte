<script lang="ts">
  /** The ways to find X and Y zero: what the bit stands over or touches, and the sum Kerbe does with it. */
  import { topHeight, datumPoint, type Job } from '@kerbe/core/job';
  import { crossingOf, edgeFrom, INWARDS, middleOf, placeByMarks, touchRadius, type Corner, type Point } from '@kerbe/core/setup/probing';
  import { CORNER_NAME, seamZero } from '@kerbe/core/setup/steps';
  import { marksOf, type Tile } from '@kerbe/core/job/tiles';
  import { cuttingWidth } from '@kerbe/core/bits';
  import LengthField from '$lib/ui/LengthField.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import { len } from '$lib/ui/format';
  import type { MachineView } from '$lib/stages/types';
  import JogPad from './JogPad.svelte';
  import type { Act } from './act.svelte';
  import type { Marking } from '$lib/stages/run/desk.svelte';
  import { SETUP } from '$lib/labels/setup';

  interface Props {
    job: Job;
    jobId: string | null;
    machine: MachineView;
    act: Act;
    bit: Job['tools'][string] | null;
    /** What of a sheet larger than the field is burned next. */
    tile?: Tile;
    /** Hears which corners or marks are taken, and where they place the board; null when none are. */
    onmarking?: (marking: Marking | null) => void;
  }
  let { job, jobId, machine: shop, act, bit, tile, onmarking }: Props = $props();
  const unit = $derived(job.units);
  const now = $derived(act.machine.now);
  const corner = $derived(job.datum.corner);
  type Way = 'here' | 'block' | 'edges' | 'pin' | 'corners' | 'diagonals' | 'marks' | 'three' | 'place' | 'typed';
  /** The zero of a tile is where the marks on its seam are, and nowhere else. */
  const seam = $derived(tile ? seamZero(tile) : null);
  const ways = $derived(
    (seam !== null
      ? [{ value: 'marks', label: SETUP.theTwoMarksOnThe } as const]
      : ([
          { value: 'here', label: SETUP.jogToTheCornerBy },
          // A torch or a beam touches nothing with its side.
          ...(corner === 'centre' || job.process !== 'router'
            ? []
            : [
                { value: 'block', label: SETUP.cornerBlock } as const,
                { value: 'edges', label: SETUP.sideOfTheBitOn } as const,
                { value: 'pin', label: SETUP.probePinOnTwoEdges } as const,
              ]),
          ...(corner === 'centre'
            ? [{ value: 'corners', label: SETUP.middleOfTwoCorners } as const, { value: 'diagonals', label: SETUP.crossingOfTheDiagonals } as const]
            : []),
          { value: 'marks', label: SETUP.twoCornersBoardLiesCrooked },
          { value: 'three', label: SETUP.threeCornersAsACheck },
          { value: 'place', label: SETUP.aSavedPlace },
          { value: 'typed', label: SETUP.typedWhereAStopIs },
        ] as const)
    ).map((way): { value: Way; label: string } => way),
  );
  let picked = $state<Way>('here');
  const way = $derived<Way>(seam !== null ? 'marks' : picked);
  let points = $state<Point[]>([]);
  let edges = $state<{ x?: number; y?: number }>({});
  /** A laser's pointer, where it shines beside the beam. */
  const pointer = $derived(job.process === 'laser' ? shop.profile.pointer : undefined);
  let by = $state<'pointer' | 'beam'>('pointer');
  const aside = $derived<Point>(pointer && by === 'pointer' ? [pointer.x, pointer.y] : [0, 0]);
  const tip = $derived(job.process === 'router' ? 'tip' : job.process === 'torch' ? 'torch' : pointer && by === 'beam' ? 'beam' : 'pointer');
  /** What stands over a mark now is there. */
  const at = $derived<Point | null>(now.status ? [now.status.machine[0] + aside[0], now.status.machine[1] + aside[1]] : null);
  /** Where the datum of the simulated board really is: what a person would see. */
  const there = $derived.by((): Point | null => {
    const b = now.status?.world?.board;
    if (!b) return null;
    const [dx, dy] = datumPoint(job);
    return [b.x + dx, b.y + dy];
  });
  const typed = $state<{ x?: number; y?: number }>({});
  let pinDiameter = $state(6);
  const radius = $derived(way === 'pin' ? pinDiameter / 2 : bit ? cuttingWidth(bit) / 2 : 0);
  const touches = $derived(way === 'pin' ? 'pin' : 'bit');
  const wanted = $derived(way === 'diagonals' ? 4 : way === 'three' ? 3 : 2);
  const ROUND = ['front left corner', 'front right corner', 'back right corner', 'back left corner'];
  const OPPOSITE = ['front left corner', 'back right corner'];
  const called = $derived(
    way === 'corners' ? OPPOSITE : seam !== null ? (tile!.axis === 'x' ? ['front mark', 'back mark'] : ['left mark', 'right mark']) : ROUND.slice(0, wanted),
  );
  const set = (by: string, place: { x?: number; y?: number } = {}, angle = 0) => act.send({ do: 'zero-xy', corner, by, at: place, angle, job: jobId });

  /** The corners of the board in the order they are asked for, from the datum. */
  const drawn = $derived.by((): Point[] => {
    const [dx, dy] = datumPoint(job);
    const { width, height } = job.board;
    if (seam !== null)
      return marksOf(tile!, job.board).map(([x, y]): Point => (tile!.axis === 'x' ? [x - tile!.from - dx, y - dy] : [x - dx, y - tile!.from - dy]));
    return [[-dx, -dy], [width - dx, -dy], [width - dx, height - dy]]; // prettier-ignore
  });
  const found = $derived.by(() => {
    if (way === 'corners' && points.length === 2) return { at: middleOf(points[0], points[1]), angle: 0, note: '' };
    if (way === 'diagonals' && points.length === 4) {
      const crossing = crossingOf(points[0], points[1], points[2], points[3]);
      return crossing ? { at: crossing, angle: 0, note: '' } : { why: 'These four do not go round a board: take them again, corner after corner.' };
    }
    if ((way === 'marks' || way === 'three') && points.length === wanted) {
      const placed = placeByMarks(drawn.slice(0, wanted), points);
      if (!placed) return { why: 'The corners are too near each other.' };
      return {
        at: placed.origin,
        angle: placed.angle,
        note: `The board lies ${((placed.angle * 180) / Math.PI).toFixed(2)}° turned; the program is turned with it. No corner is farther than ${len(placed.off, unit)} from where the drawing has it${placed.off > 1 ? ' - are they the right ones, and is the board as large as on Board?' : ''}.`,
      };
    }
    return null;
  });
  $effect(() => {
    const placed = found && !('why' in found) ? found : null;
    onmarking?.(points.length > 0 ? { points, origin: placed && [placed.at[0], placed.at[1]], angle: placed?.angle ?? 0 } : null);
    return () => onmarking?.(null);
  });
  const block = $derived(shop.profile.blocks[0]);
  let lip = $state<number | null>(null);
  let thick = $state<number | null>(null);
  const blockNow = $derived({ size: 50, lip: lip ?? block?.lip ?? 12, thickness: thick ?? block?.thickness ?? 20 });
  const blockBy = $derived(now.setup.zeroXY?.by ?? '');
  // A block stands at a corner; in the middle of a board there is none.
  const probe = (axis: 'x' | 'y' | 'z') =>
    corner !== 'centre' &&
    act.send({
      do: 'probe-block',
      axis,
      corner,
      block: blockNow,
      radius: bit ? touchRadius(bit, blockNow.thickness / 2) : 0,
      datum: job.datum.z,
      board: topHeight(job.board),
      job: jobId,
    });
</script>

<Choice
  label={SETUP.howItIsSet}
  value={way}
  options={ways}
  onchange={(next) => {
    picked = next;
    points = [];
    edges = {};
  }}
/>
{#if pointer && way !== 'place' && way !== 'typed'}
  <Choice
    label={SETUP.broughtOverIt}
    value={by}
    options={[
      { value: 'pointer', label: SETUP.itsPointer },
      { value: 'beam', label: SETUP.theBeamItself },
    ]}
    onchange={(next) => {
      by = next;
      points = [];
    }}
  />
  {#if by === 'pointer'}<p class="text-surface-600-400">
      It shines {len(Math.abs(pointer.x), unit)}
      {pointer.x < 0 ? 'left' : 'right'} of the beam and {len(Math.abs(pointer.y), unit)}
      {pointer.y < 0 ? 'in front of' : 'behind'} it: that is reckoned in.
    </p>{/if}
{/if}
{#if way === 'here'}
  <p>Bring the {tip} over the {CORNER_NAME[corner]}.</p>
  {#if shop.profile.shows && there}
    <button
      class="btn preset-outlined-surface-300-700"
      disabled={act.busy !== null}
      onclick={() => act.send({ do: 'move-over', x: there[0] - aside[0], y: there[1] - aside[1] })}>{SETUP.doItForMeSimulated}</button
    >
  {/if}
  <JogPad machine={act.machine} {unit} />
  <button
    class="btn preset-filled-brand px-4 py-2.5 font-semibold"
    disabled={act.busy !== null}
    onclick={() => at && set('jogged to the corner by eye', pointer ? { x: at[0], y: at[1] } : {})}>{SETUP.xAndYAreZero}</button
  >
{:else if way === 'block' && corner !== 'centre'}
  <LengthField label={SETUP.lipOverTheEdge} value={blockNow.lip} {unit} min={0} onchange={(mm) => (lip = mm)} />
  <LengthField label={SETUP.thicknessOnTheBoard} value={blockNow.thickness} {unit} min={0.5} onchange={(mm) => (thick = mm)} />
  <p class="text-surface-600-400">X0 = touch + (radius {len(bit ? touchRadius(bit, blockNow.thickness / 2) : 0, unit)} + lip {len(blockNow.lip, unit)}).</p>
  {#if shop.profile.shows && !now.status?.world?.block}
    <button
      class="btn preset-outlined-surface-300-700"
      disabled={act.busy !== null}
      onclick={async () => {
        const b = now.status?.world?.board;
        if (!b) return;
        const [sx, sy] = INWARDS[corner as Corner];
        const middle = [(sx > 0 ? b.x : b.x + b.width) + sx * 22, (sy > 0 ? b.y : b.y + b.height) + sy * 22];
        if (await act.send({ do: 'move-over', x: middle[0], y: middle[1] })) await act.bench({ block: { corner, ...blockNow }, probeClip: true });
      }}>{SETUP.blockOnTheCornerClip}</button
    >
  {/if}
  <JogPad machine={act.machine} {unit} />
  <p class="caution">Hands away before each touch. Turn an edge of the flutes towards the side that is touched.</p>
  <div class="gap-1.5 flex flex-wrap items-center">
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" disabled={act.busy !== null} onclick={() => probe('z')}>{SETUP.n1TouchItsTop}</button>
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" disabled={act.busy !== null} onclick={() => probe('x')}>{SETUP.n2TouchItsXSide}</button>
    <button class="btn preset-filled-brand px-4 py-2.5 font-semibold" disabled={act.busy !== null} onclick={() => probe('y')}>{SETUP.n3TouchItsYSide}</button>
  </div>
  <p class="text-surface-600-400" aria-live="polite">
    {act.busy === 'probe-block'
      ? 'Probing…'
      : blockBy === 'corner block'
        ? 'X, Y and Z are set.'
        : blockBy.startsWith('corner block')
          ? `One side is set (${blockBy}).`
          : ''}
  </p>
{:else if (way === 'edges' || way === 'pin') && corner !== 'centre'}
  {#if way === 'pin'}
    <p class="caution">A pin must never turn: while it is in the collet nothing starts the spindle. Afterwards the bit is fitted and measured again.</p>
    <LengthField label={SETUP.diameterOfThePin} value={pinDiameter} {unit} min={0.5} onchange={(mm) => (pinDiameter = mm)} />
    {#if shop.profile.shows && !now.status?.world?.pin}
      <button
        class="btn preset-outlined-surface-300-700"
        disabled={act.busy !== null}
        onclick={() =>
          act.bench({ bit: { shape: { kind: 'end', id: 'pin', diameter: pinDiameter, shank: pinDiameter, fluteLength: 20 }, stickOut: 30, pin: true } })}
        >{SETUP.pinInTheColletSimulated}</button
      >
    {/if}
  {/if}
  <p>Spindle still. Bring the side of the {touches} against the edge until a paper just grips; the radius {len(radius, unit)} is added.</p>
  <JogPad machine={act.machine} {unit} />
  <div class="gap-1.5 flex flex-wrap items-center">
    <button class="btn preset-outlined-surface-300-700" disabled={!at} aria-pressed={edges.x !== undefined} onclick={() => (edges = { ...edges, x: at![0] })}
      >{SETUP.itTouchesTheXEdge}</button
    >
    <button class="btn preset-outlined-surface-300-700" disabled={!at} aria-pressed={edges.y !== undefined} onclick={() => (edges = { ...edges, y: at![1] })}
      >{SETUP.itTouchesTheYEdge}</button
    >
  </div>
  <button
    class="btn preset-filled-brand px-4 py-2.5 font-semibold"
    disabled={act.busy !== null || edges.x === undefined || edges.y === undefined}
    onclick={() => {
      const [sx, sy] = INWARDS[corner as Corner];
      void set(`side of the ${touches} on two edges`, { x: edgeFrom(edges.x!, sx, radius), y: edgeFrom(edges.y!, sy, radius) });
    }}>{SETUP.setXAndYFrom}</button
  >
{:else if way === 'typed'}
  <p>Where the {CORNER_NAME[corner]} lies, in machine coordinates: a stop or a fixture that never moves.</p>
  <LengthField label={SETUP.machineX} value={typed.x} {unit} onchange={(mm) => (typed.x = mm)} />
  <LengthField label={SETUP.machineY} value={typed.y} {unit} onchange={(mm) => (typed.y = mm)} />
  <button
    class="btn preset-filled-brand px-4 py-2.5 font-semibold"
    disabled={act.busy !== null || typed.x === undefined || typed.y === undefined}
    onclick={() => set('typed machine coordinates', { x: typed.x, y: typed.y })}>{SETUP.zeroIsThere}</button
  >
{:else if way === 'place'}
  {#each now.setup.places as place (place.name)}
    <div class="gap-1.5 flex flex-wrap items-center">
      <button
        class="btn preset-outlined-surface-300-700"
        disabled={act.busy !== null}
        onclick={() => set(`saved place “${place.name}”`, { x: place.at[0], y: place.at[1] })}>{SETUP.zeroIsAt(place.name)}</button
      >
      <span class="text-surface-600-400 figure">X {place.at[0].toFixed(1)} Y {place.at[1].toFixed(1)}</span>
    </div>
  {:else}<p class="text-surface-600-400">No place has been saved yet: bring the bit there and save it below, under Places.</p>{/each}
{:else}
  <p>
    {way === 'marks'
      ? seam !== null
        ? `Bring the ${tip} over the two crosses that the tile before burned on the seam.`
        : `Bring the ${tip} over the two front corners of the board, wherever it lies.`
      : way === 'three'
        ? `Bring the ${tip} over both front corners and the back right one: what does not fit shows at once.`
        : way === 'corners'
          ? `Bring the ${tip} over two opposite corners.`
          : `Bring the ${tip} over the four corners, one after the other round the board.`}
  </p>
  {#if seam !== null && shop.profile.shows && now.status?.world?.board && points.length < wanted}
    {@const board = now.status.world.board}
    {@const mark = marksOf(tile!, job.board)[points.length]}
    <button
      class="btn preset-outlined-surface-300-700"
      disabled={act.busy !== null}
      onclick={() => act.send({ do: 'move-over', x: board.x + mark[0] - aside[0], y: board.y + mark[1] - aside[1] })}>{SETUP.doItForMeSimulated}</button
    >
  {/if}
  <JogPad machine={act.machine} {unit} />
  <div class="gap-1.5 flex flex-wrap items-center">
    <button class="btn preset-outlined-surface-300-700" disabled={!at || points.length >= wanted} onclick={() => (points = [...points, at!])}
      >{points.length < wanted ? SETUP.isOverMark(tip, called[points.length]) : SETUP.allAreTaken}</button
    >
    {#if points.length > 0}<button class="btn preset-outlined-surface-300-700" onclick={() => (points = points.slice(0, -1))}>{SETUP.undoTheLast}</button>{/if}
  </div>
  <p class="text-surface-600-400 figure">{points.map(([x, y], k) => `${called[k]}: X ${x.toFixed(2)} Y ${y.toFixed(2)}`).join(' · ')}</p>
  {#if found && 'why' in found}<p class="caution">{found.why}</p>
  {:else if found}
    {#if found.note}<p>{found.note}</p>{/if}
    <button
      class="btn preset-filled-brand px-4 py-2.5 font-semibold"
      disabled={act.busy !== null}
      onclick={() => set(seam ?? ways.find(({ value }) => value === way)!.label.toLowerCase(), { x: found.at[0], y: found.at[1] }, found.angle)}
      >{SETUP.zeroAt(found.at[0].toFixed(2), found.at[1].toFixed(2))}</button
    >
  {/if}
{/if}
