/** A tone that is heard across a workshop, made by the browser itself. Silent where the page has not been touched yet: browsers insist on that. */
let audio: AudioContext | null = null;

export function beep(): void {
  audio ??= new AudioContext();
  const tone = audio.createOscillator();
  const volume = audio.createGain();
  tone.frequency.value = 880;
  volume.gain.value = 0.25;
  tone.connect(volume).connect(audio.destination);
  tone.start();
  tone.stop(audio.currentTime + 0.4);
}
