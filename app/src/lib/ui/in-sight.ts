/** Brings what is to be pressed next into sight when it appears: a phone shows little of a card. */
export const inSight = (node: HTMLElement): void => node.scrollIntoView({ block: 'nearest' });
