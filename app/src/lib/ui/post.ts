import { tabName } from './tab.ts';

/** Asks the server for something; what it refuses, or that it is away, comes back in words. */
export async function ask<T>(
  url: string,
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE' = 'GET',
  body?: unknown,
): Promise<{ ok: true; value: T } | { ok: false; why: string }> {
  try {
    const response = await fetch(url, {
      method,
      // As it is now, or not at all: never what was kept for a time without a network.
      cache: 'no-store',
      headers: { 'x-kerbe-tab': tabName(), ...(body ? { 'content-type': 'application/json' } : {}) },
      body: body ? JSON.stringify(body) : undefined,
    });
    const answer = (await response.json()) as T & { why?: string };
    return response.ok ? { ok: true, value: answer } : { ok: false, why: answer.why ?? 'The server refused it.' };
  } catch {
    return { ok: false, why: 'No connection to Kerbe. Try again when it is back.' };
  }
}
