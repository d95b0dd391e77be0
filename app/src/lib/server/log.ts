/** What the web server says of itself: one line of JSON each, with the request it belongs to. Never a secret: only what is named here is written. */
import pino from 'pino';

export const log = pino({
  base: { part: 'web' },
  level: process.env.KERBE_LOG ?? 'info',
  timestamp: pino.stdTimeFunctions.isoTime,
  formatters: { level: (level) => ({ level }) },
  serializers: { err: pino.stdSerializers.err },
});

/** The id of a request: what a proxy or the browser gave it, when that is a plain word, else one of our own. */
export const requestId = (request: Request): string => {
  const given = request.headers.get('x-request-id') ?? '';
  return /^[\w-]{1,64}$/.test(given) ? given : crypto.randomUUID();
};

/** Something went wrong and somebody should look at it. */
export const trouble = (what: string, error?: unknown, more: object = {}): void => log.error({ ...more, ...(error === undefined ? {} : { err: error }) }, what);
