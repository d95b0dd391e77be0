<script lang="ts">
  import { PROOF } from '$lib/labels/proof';
  /** A small picture from the worker. */
  let { picture, label }: { picture: { width: number; height: number; data: Uint8ClampedArray }; label: string } = $props();
  let canvas = $state<HTMLCanvasElement>();
  $effect(() => {
    const context = canvas?.getContext('2d');
    if (!canvas || !context) return;
    canvas.width = picture.width;
    canvas.height = picture.height;
    const image = context.createImageData(picture.width, picture.height);
    image.data.set(picture.data);
    context.putImageData(image, 0, 0);
  });
</script>

<figure aria-label={PROOF.carvedWith(label)}><canvas class="border border-surface-200-800 w-44 h-auto" bind:this={canvas} aria-hidden="true"></canvas></figure>
