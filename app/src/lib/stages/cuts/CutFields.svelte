<script lang="ts">
  /** The figures of one cut, asked from the table; what is seldom changed is folded away. */
  import type { Cut } from '@kerbe/core/job';
  import type { JobSession } from '$lib/job/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import LengthField from '$lib/ui/LengthField.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import { kindOf, type BaseCut } from '@kerbe/core/cuts';
  import { putAt, valueAt, type Field as FieldOf } from '@kerbe/core/cuts/card';

  type Field = FieldOf<BaseCut>;

  let { session, cut }: { session: JobSession; cut: Cut } = $props();
  const context = $derived({ job: session.job, bit: session.job.tools[cut.tool] });
  const asked = $derived(kindOf(cut).fields.filter((field) => field.when?.(cut, context) ?? true));
  const groups = $derived([...new Set(asked.map((field) => field.under ?? ''))].sort((a, b) => (a === '' ? -1 : b === '' ? 1 : 0)));

  function put(field: Field, value: unknown) {
    session.edit(field.label, (d) => putAt(d.cuts[cut.id], field, value));
  }
  /** Choices are words; a few of them stand for numbers, and none for nothing. */
  const chosen = (field: Field, word: string) => (word === '' ? undefined : typeof valueAt(cut, field.key) === 'number' ? Number(word) : word);
</script>

{#snippet entry(field: Field)}
  {@const value = valueAt(cut, field.key)}
  {@const hint = field.hint?.(cut, context)}
  {#if field.as === 'length'}
    <LengthField
      label={field.label}
      value={value as number | undefined}
      unit={session.job.units}
      min={field.min}
      {hint}
      placeholder={field.empty?.(cut, context)}
      onclear={field.empty ? () => put(field, undefined) : undefined}
      onchange={(v) => put(field, v)}
    />
  {:else if field.as === 'number'}
    <NumberField
      label={field.label}
      value={value as number}
      unit={field.unit ?? ''}
      min={field.min}
      max={field.max}
      step={field.step ?? 1}
      note={hint}
      onchange={(v) => put(field, v)}
    />
  {:else if field.as === 'choice'}
    <Choice
      label={field.label}
      value={String(value ?? '')}
      options={typeof field.options === 'function' ? field.options(cut, context) : field.options}
      onchange={(v) => put(field, chosen(field, v))}
    />
  {:else}
    <label class="py-1.5 gap-2 flex items-center text-sm"
      ><input class="checkbox" type="checkbox" checked={value as boolean} onchange={(e) => put(field, e.currentTarget.checked)} /> {field.label}</label
    >
  {/if}
{/snippet}

{#each groups as group (group)}
  {#if group === ''}
    {#each asked.filter((field) => !field.under) as field (field.key)}{@render entry(field)}{/each}
  {:else}
    <details class="py-0.5 border-t border-surface-200-800">
      <summary class="py-1.5 cursor-pointer text-sm">{group}</summary>
      {#each asked.filter((field) => field.under === group) as field (field.key)}{@render entry(field)}{/each}
    </details>
  {/if}
{/each}
