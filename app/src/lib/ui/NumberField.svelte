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

<div class="field">
  <label for={id}>{label}</label>
  <div class="entry" class:bad={why !== null}>
    <input {id} type="number" {min} {max} {step} {value} aria-invalid={why !== null} onchange={(event) => commit(event.currentTarget.value)} />
  </div>
  <span class="other">{unit}</span>
  {#if why || note}<p class:why>{why ?? note}</p>{/if}
</div>
