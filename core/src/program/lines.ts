/** The lines of a program that are sent: everything but what is empty. */
export const linesOf = (text: string): string[] => text.split(/\r?\n/).filter((line) => line.trim() !== '');

/** A number as a program has it: a ten-thousandth at most, without exponent or minus zero. */
export const word = (value: number): string => String(Math.round(value * 1e4) / 1e4 + 0);

export const bytesOf = (line: string): Uint8Array => {
  const bytes = new Uint8Array(line.length + 1);
  for (let i = 0; i < line.length; i++) bytes[i] = Math.min(line.charCodeAt(i), 127);
  bytes[line.length] = 10;
  return bytes;
};
