import { createHash } from 'node:crypto';

/** The hash of a release: over the hashes of its programs. */
export const hashOfHashes = (hashes: readonly string[]): string => createHash('sha256').update(hashes.join('\n')).digest('hex');
