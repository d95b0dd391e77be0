/** What a request brings, read with a schema. How large it may be is checked before (access.ts). */
import type { z } from 'zod';
import { cleanDeep } from '@kerbe/core/text';

/** The JSON of a body as the schema wants it, cleaned; null when it is none. Depth is bounded by the schema. */
export async function jsonOf<T>(request: Request, schema: z.ZodType<T>): Promise<T | null> {
  const parsed = await tryJsonOf(request, schema);
  return parsed.success ? parsed.data : null;
}

/** The same, with what is wrong with it. */
export async function tryJsonOf<T>(request: Request, schema: z.ZodType<T>): Promise<z.ZodSafeParseResult<T>> {
  const parsed = schema.safeParse(await request.json().catch(() => null));
  if (parsed.success) cleanDeep(parsed.data);
  return parsed;
}

/** The fields of a form, cleaned. */
export const formOf = async (request: Request): Promise<Record<string, FormDataEntryValue>> => cleanDeep(Object.fromEntries(await request.formData()));

/** A word of the query, cleaned and no longer than asked. */
export const wordOf = (url: URL, name: string, most = 200): string => cleanDeep(url.searchParams.get(name) ?? '').slice(0, most);

/** What of the query a schema knows, cleaned; the schema says what stands for what is missing or wrong. */
export const queryOf = <T>(url: URL, schema: z.ZodType<T>): T => schema.parse(cleanDeep(Object.fromEntries(url.searchParams)));

export const bytesOf = async (request: Request): Promise<Uint8Array> => new Uint8Array(await request.arrayBuffer());
