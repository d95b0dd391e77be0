<script lang="ts" generics="T extends Record<string, unknown>">
  /** One typed field of a form outside the live job: its label, and what the server said of it. */
  import type { HTMLInputAttributes } from 'svelte/elements';
  import type { SuperForm } from 'sveltekit-superforms';
  import type { Said } from './said';

  interface Props extends Omit<HTMLInputAttributes, 'value' | 'name'> {
    of: SuperForm<T, Said>;
    name: keyof T & string;
    label: string;
  }
  let { of, name, label, ...rest }: Props = $props();
  const id = $props.id();
  const { form, errors, constraints } = $derived(of);
  const why = $derived(($errors as unknown as Record<string, string[] | undefined>)[name]);
  /** Without its pattern: a browser does not read every one, and says less of it than the schema does. */
  const rules = $derived({ ...($constraints as unknown as Record<string, object | undefined>)[name], pattern: undefined });
</script>

<div class="label">
  <label for={id}>{label}</label>
  <input
    {id}
    {name}
    class="input"
    value={$form[name] as string}
    oninput={(event) => form.update((all) => ({ ...all, [name]: event.currentTarget.value }))}
    aria-invalid={why ? 'true' : undefined}
    aria-describedby={why ? `${id}-why` : undefined}
    {...rules}
    {...rest}
  />
  {#if why}<p id="{id}-why" class="text-sm text-error-600-400">{why.join(' ')}</p>{/if}
</div>
