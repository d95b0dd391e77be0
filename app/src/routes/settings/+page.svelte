<script lang="ts">
  /** What is said of the shop as a whole. */
  import { superForm } from 'sveltekit-superforms';
  import Choice from '$lib/ui/Choice.svelte';
  import FormField from '$lib/ui/FormField.svelte';
  import FormSaid from '$lib/ui/FormSaid.svelte';
  import NumberField from '$lib/ui/NumberField.svelte';
  import ShopBar from '$lib/ui/ShopBar.svelte';
  import { materialsFor } from '$lib/shop/materials';
  import { SHOP } from '$lib/labels/shop';
  import { COMMON } from '$lib/labels/common';

  let { data } = $props();
  // svelte-ignore state_referenced_locally
  const all = superForm(data.form, { resetForm: false });
  const { form: settings, errors, message, enhance } = all;
  let why = $state('');
  async function take(file: File | undefined) {
    why = '';
    if (!file) return;
    if (!/^image\/(png|jpeg)$/.test(file.type)) return void (why = `${file.name} is no PNG or JPEG picture.`);
    if (file.size > 280_000) return void (why = `${file.name} is too large: make it 280 kB or less.`);
    $settings.logo = await new Promise<string>((done) => {
      const reader = new FileReader();
      reader.onload = () => done(reader.result as string);
      reader.readAsDataURL(file);
    });
  }
</script>

<svelte:head><title>Settings · Kerbe</title></svelte:head>
<ShopBar user={data.user} here="settings" />
<main class="max-w-160 px-6.5 py-5">
  <h1 class="pb-4 text-3xl">{SHOP.theShop}</h1>
  <form method="POST" class="grid gap-3" use:enhance>
    <FormField of={all} label={SHOP.nameOnTheWallAnd} name="name" required />
    <div>
      <span class="label"><span>Logo, on set-up sheets</span></span>
      <div class="flex items-center gap-3 py-1">
        {#if $settings.logo}<img class="h-14 max-w-60 object-contain" src={$settings.logo} alt={SHOP.theLogo} />{/if}
        <input
          class="input"
          type="file"
          accept="image/png,image/jpeg"
          aria-label={SHOP.chooseALogo}
          onchange={(event) => take(event.currentTarget.files?.[0])}
        />
        {#if $settings.logo}<button type="button" class="btn preset-outlined-surface-300-700" onclick={() => ($settings.logo = '')}>{SHOP.without}</button>{/if}
      </div>
      <input type="hidden" name="logo" value={$settings.logo} />
    </div>
    <fieldset class="grid gap-1">
      <legend class="pb-1 font-semibold">{SHOP.defaultsForANewSign}</legend>
      {#each ['units', 'fraction', 'machine', 'material', 'presence', 'rateMachine', 'rateHands', 'rateAdded', 'currency'] as const as name (name)}
        <input type="hidden" {name} value={$settings[name]} />
      {/each}
      <Choice
        label={COMMON.units}
        value={$settings.units}
        options={[
          { value: 'mm', label: SHOP.millimetres },
          { value: 'in', label: SHOP.inches },
        ]}
        onchange={(units) => ($settings.units = units)}
      />
      <Choice
        label={SHOP.inchesAreWritten}
        value={String($settings.fraction)}
        options={[
          { value: '0', label: SHOP.asDecimals },
          { value: '16', label: SHOP.asFractionsTo116 },
          { value: '32', label: SHOP.asFractionsTo132 },
          { value: '64', label: SHOP.asFractionsTo164 },
        ]}
        onchange={(of) => ($settings.fraction = Number(of) as 0)}
      />
      <Choice
        label={COMMON.material}
        value={$settings.material}
        options={materialsFor('router', $settings.material, data.materials).map((m) => ({ value: m, label: m }))}
        onchange={(material) => ($settings.material = material)}
      />
      <Choice
        label={COMMON.machine}
        value={$settings.machine}
        options={[{ value: '', label: SHOP.theFirstThatIsLinked }, ...data.machines.map(({ id, name }) => ({ value: id, label: name }))]}
        onchange={(machine) => ($settings.machine = machine)}
      />
    </fieldset>
    <fieldset class="grid gap-1">
      <legend class="pb-1 font-semibold">{SHOP.ratesAndCosts}</legend>
      <Choice
        label={SHOP.currency}
        value={$settings.currency}
        options={[...new Set(['€', '£', '$', 'kr', 'CHF', $settings.currency])].map((sign) => ({ value: sign, label: sign }))}
        onchange={(sign) => ($settings.currency = sign)}
      />
      <NumberField
        label={SHOP.machinePerHour}
        unit={$settings.currency}
        value={$settings.rateMachine}
        min={0}
        max={10_000}
        step={0.01}
        onchange={(value) => ($settings.rateMachine = value)}
      />
      <NumberField
        label={SHOP.personPerHour}
        unit={$settings.currency}
        value={$settings.rateHands}
        min={0}
        max={10_000}
        step={0.01}
        onchange={(value) => ($settings.rateHands = value)}
      />
      <NumberField
        label={SHOP.addedToAQuote}
        unit={SHOP.perCent}
        value={$settings.rateAdded}
        min={0}
        max={1000}
        onchange={(value) => ($settings.rateAdded = value)}
      />
    </fieldset>
    <fieldset class="grid gap-1">
      <legend class="pb-1 font-semibold">{SHOP.aTorchMayNotBe}</legend>
      <NumberField
        label={SHOP.atTheMachineSomebodyIs}
        unit={SHOP.minutes}
        value={$settings.presence}
        min={1}
        max={30}
        onchange={(minutes) => ($settings.presence = minutes)}
      />
      <p class="text-sm text-surface-600-400">When nobody answers, the run holds and the arc goes out.</p>
    </fieldset>
    {#each ['logo', 'fraction', 'presence', 'currency', 'rateMachine', 'rateHands', 'rateAdded'] as const as name (name)}
      {#if $errors[name]}<p class="text-sm text-error-600-400">{$errors[name].join(' ')}</p>{/if}
    {/each}
    {#if why}<p class="caution" role="alert">{why}</p>{/if}
    <div class="flex items-center gap-3">
      <button class="btn preset-filled-brand px-4 py-2.5 font-semibold">{SHOP.saveTheseSettings}</button>
      <FormSaid message={$message} />
    </div>
  </form>
</main>
