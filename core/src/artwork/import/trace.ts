/** How a picture is traced: the settings, and what suits a job. */
import { readChart } from '../../bits/chart.ts';
import type { Job } from '../../job/index.ts';
import { processOf } from '../../process/index.ts';

export interface TraceSettings {
  /** Grey value at which the line is drawn: darker is carved. */
  threshold: number;
  /** Carve what is lighter instead. */
  invert: boolean;
  /** Spots and pinholes of fewer pixels are dropped. */
  despeckle: number;
  /** Greatest distance of the curves from the picture's edge, pixels. */
  smooth: number;
  /** Bends of an outline tighter than this are rounded, inside and out, and what is thinner than twice of it goes; pixels, 0: none. */
  round: number;
  /** `outline` of dark areas, or the `middle` of thin lines. */
  along: 'outline' | 'middle';
}

export const TRACE: TraceSettings = { threshold: 128, invert: false, despeckle: 8, smooth: 0.35, round: 0, along: 'outline' };

/** A cut as wide as its kerf has no bend tighter than half of it; a curve that is out by less than this is as good to it, mm. */
const AS_GOOD = 0.2;

/**
 * How a picture is traced for a job: on a torch no bend is tighter than the kerf can follow, no spot smaller than the plate
 * is thick, and the unevenness of pixels is no reason to slow down. (Common practice.)
 *
 * @param pixel size of a pixel, mm
 */
export function traceFor(job: Pick<Job, 'process' | 'board' | 'tools'>, pixel: number): TraceSettings {
  const nozzle = Object.values(job.tools).find((tool) => tool.kind === 'nozzle');
  if (!processOf(job).roundsBends || !nozzle) return TRACE;
  const { thickness } = job.board;
  const kerf = readChart(nozzle.chart, thickness)?.row.kerf ?? 1.5;
  return {
    ...TRACE,
    smooth: Math.min(3, Math.max(TRACE.smooth, AS_GOOD / pixel)),
    round: kerf / 2 / pixel,
    despeckle: Math.max(TRACE.despeckle, Math.ceil(((Math.PI / 4) * thickness ** 2) / pixel ** 2)),
  };
}
