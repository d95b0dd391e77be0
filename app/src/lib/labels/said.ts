/** What is filled into a label: a name or a figure, already in the unit it is shown in. */
export type Said = string | number;
