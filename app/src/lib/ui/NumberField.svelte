<script lang="ts">
  /** One plain number with its unit in words. */
  interface Props {
    label: string;
    value: number;
    unit?: string;
    min: number;
    max: number;
    step?: number;
    note?: string;
    onchange: (value: number) => void;
  }
  let { label, value, unit = '', min, max, step = 1, note, onchange }: Props = $props();
  const id = $props.id();
  let why = $state<string | null>(null);

  function commit(text: string) {
    const number = Number(text.replace(',', '.'));
    if (text.trim() === '' || !Number.isFinite(number) || number < min || number > max) {
      why = `A number from ${min} to ${max}.`;
      return;
    }
    why = null;
    onchange(step === 1 ? Math.round(number) : number);
  }
</script>

<div class="grid grid-cols-[1fr_8.5rem_5.2rem] items-center gap-x-2.5 py-1">
  <label class="text-sm" for={id}>{label}</label>
  <input
    {id}
    class={['input figure px-2 text-right', why !== null && 'ring-error-600-400']}
    type="number"
    {min}
    {max}
    {step}
    {value}
    aria-invalid={why !== null}
    onchange={(event) => commit(event.currentTarget.value)}
  />
  <span class="text-xs whitespace-nowrap text-surface-600-400">{unit}</span>
  {#if why || note}<p class={['col-span-full text-xs', why ? 'text-error-600-400' : 'text-surface-600-400']}>{why ?? note}</p>{/if}
</div>
