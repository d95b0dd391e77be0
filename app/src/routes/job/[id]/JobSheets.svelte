<!-- What lies over the job now and then. It is seldom needed, and fetched when it is. -->
<script lang="ts">
  import type { Arrivals } from '$lib/art/arrivals.svelte';
  import type { ArtEditor } from '$lib/art/editor.svelte';
  import { today, type JobSession } from '$lib/job/session.svelte';
  import type { JobView } from '$lib/job/view.svelte';
  import type { PageData } from './$types';

  interface Props {
    session: JobSession;
    editor: ArtEditor;
    view: JobView;
    arrivals: Arrivals;
    crib: PageData['crib'];
    mayWrite: boolean;
  }
  let { session, editor, view, arrivals, crib, mayWrite }: Props = $props();

  function leaveFile() {
    arrivals.leave();
    view.plan?.fit();
  }
</script>

{#if arrivals.incoming}{#await import('$lib/stages/artwork/BringIn.svelte') then { default: BringIn }}{#if arrivals.incoming}<BringIn
        incoming={arrivals.incoming}
        onclose={leaveFile}
      />{/if}{/await}{/if}
{#if arrivals.plates !== null}{#await import('$lib/stages/artwork/PlateList.svelte') then { default: PlateList }}{#if arrivals.plates !== null}<PlateList
        {editor}
        text={arrivals.plates}
        onclose={() => (arrivals.plates = null)}
      />{/if}{/await}{/if}
{#if view.sheet === 'finder'}{#await import('$lib/stages/proof/BitFinder.svelte') then { default: BitFinder }}{#if view.sheet === 'finder'}<BitFinder
        {session}
        {crib}
        first={view.cut}
        onclose={() => (view.sheet = null)}
      />{/if}{/await}{/if}
{#if view.sheet === 'trial' && session.job.process === 'laser' && !session.job.trial}{#await import('$lib/stages/proof/CardSheet.svelte') then { default: CardSheet }}<CardSheet
      {session}
      onclose={() => (view.sheet = null)}
    />{/await}
{:else if view.sheet === 'trial'}{#await import('$lib/stages/proof/TrialSheet.svelte') then { default: TrialSheet }}{#if view.sheet === 'trial'}<TrialSheet
        {session}
        {editor}
        {crib}
        first={view.cut}
        today={today()}
        onclose={() => (view.sheet = null)}
      />{/if}{/await}{/if}
{#if view.sheet === 'layout'}{#await import('$lib/stages/artwork/LayoutSheet.svelte') then { default: LayoutSheet }}{#if view.sheet === 'layout'}<LayoutSheet
        {session}
        onclose={() => (view.sheet = null)}
      />{/if}{/await}{/if}
{#if view.sheet === 'sum'}{#await import('$lib/job/SumSheet.svelte') then { default: SumSheet }}{#if view.sheet === 'sum'}<SumSheet
        {session}
        id={view.sum}
        onclose={() => (view.sheet = null)}
      />{/if}{/await}{/if}
{#if view.sheet === 'history'}{#await import('$lib/job/History.svelte') then { default: History }}{#if view.sheet === 'history'}<History
        {session}
        {mayWrite}
        onclose={() => (view.sheet = null)}
      />{/if}{/await}{/if}
