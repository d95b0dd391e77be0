/** Where a request comes from. */

/** The same address with or without the wrapping that IPv4 gets on an IPv6 socket. */
const plain = (address: string): string => address.trim().replace(/^::ffff:/, '');

/**
 * The address of whoever asks: the other end of the connection - or, when that is a proxy named by
 * the installation, the nearest address before it that is no such proxy. Nobody else's
 * X-Forwarded-For is believed.
 */
export function addressOf(remote: string, forwarded: string | string[] | undefined, proxies: ReadonlySet<string>): string {
  const way = [...String(forwarded ?? '').split(','), remote].map(plain).filter(Boolean);
  for (let at = way.pop(); at !== undefined; at = way.pop()) if (!proxies.has(at) || way.length === 0) return at;
  return plain(remote);
}
