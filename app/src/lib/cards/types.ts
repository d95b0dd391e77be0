/** What the job page loads beside the document. */
export interface ReleaseView {
  id: string;
  revision: number;
  sha256: string;
  author: string;
  programs: {
    name: string;
    sha256: string;
    bits: string[];
    seconds: number;
    lines: number;
    extents: { min: [number, number, number]; max: [number, number, number] } | null;
  }[];
  report: { date: string; seconds: number; deepest: number };
}

export interface RunView {
  id: string;
  program: string;
  state: string;
  message: string;
  line: number;
  lines: number;
  estimate_seconds: number;
  actual_seconds: number;
  author: string;
  notes: string;
  started_at: Date;
  ended_at: Date | null;
}
