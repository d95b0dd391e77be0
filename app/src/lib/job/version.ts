/** A saved version of a job, as it is listed. */
export interface Version {
  revision: number;
  label: string;
  author: string;
  /** The name somebody gave it. */
  named: string | null;
  at: string;
  picture: string | null;
}
