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

<style>
  .field {
    display: grid;
    grid-template-columns: 1fr 8.5rem 5.2rem;
    align-items: center;
    gap: 0.2rem 0.6rem;
    padding: 0.22rem 0;
  }
  label {
    font-size: 0.9rem;
  }
  .entry {
    border-bottom: 1px solid var(--line-strong);
    background: var(--sheet);
  }
  .entry:focus-within {
    border-color: var(--accent);
    box-shadow: 0 1px 0 var(--accent);
  }
  .entry.bad {
    border-color: var(--danger);
  }
  input {
    width: 100%;
    background: none;
    border: 0;
    outline: none;
    padding: 0.3rem 0.2rem;
    text-align: right;
    font-variant-numeric: tabular-nums;
    font-weight: 550;
    color: var(--ink);
  }
  .other {
    color: var(--quiet);
    font-size: 0.8rem;
  }
  p {
    grid-column: 1 / -1;
    font-size: 0.8rem;
    color: var(--quiet);
    margin: 0;
  }
  p.why {
    color: var(--danger);
  }
</style>
