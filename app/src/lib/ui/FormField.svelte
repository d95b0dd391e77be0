<script lang="ts">
  /** One typed field of a form outside the live job: its label, and what the server said of it. */
  import type { HTMLInputAttributes } from 'svelte/elements';

  interface Props extends Omit<HTMLInputAttributes, 'value'> {
    label: string;
    value: string;
    errors?: string[];
    /** What a field must be at least, from its schema. */
    constraints?: Record<string, unknown>;
  }
  let { label, value = $bindable(), errors, constraints, ...rest }: Props = $props();
  const id = $props.id();
  /** Without its pattern: a browser does not read every one, and says less of it than the schema does. */
  const rules = $derived({ ...constraints, pattern: undefined });
</script>

<div class="label">
  <label for={id}>{label}</label>
  <input {id} class="input" bind:value aria-invalid={errors ? 'true' : undefined} aria-describedby={errors ? `${id}-why` : undefined} {...rules} {...rest} />
  {#if errors}<p id="{id}-why" class="text-sm text-error-600-400">{errors.join(' ')}</p>{/if}
</div>
