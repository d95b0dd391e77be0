/** How a finding's weight is told: by word and mark, and by colour too. */
import type { Finding } from '@kerbe/core/findings';

export const SEVERITY: Record<Finding['severity'], { word: string; mark: string; tone: string }> = {
  error: { word: 'Forbids cutting', mark: '✕', tone: 'text-error-600-400' },
  warning: { word: 'Check this', mark: '▲', tone: 'text-warning-600-400' },
  note: { word: 'Note', mark: '·', tone: '' },
};
