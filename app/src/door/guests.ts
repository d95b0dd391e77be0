/** Whom the web server has let in, as the door learned it from its answers. */

export interface Guest {
  id: string;
  name: string;
}

/** Somebody nothing was heard of for so long is asked for anew, milliseconds. */
const FORGOTTEN = 12 * 3600e3;
const MOST = 2000;

export interface Session {
  /** The cookie as it came, signature and all. */
  cookie: string;
  /** What names the session in the database. */
  token: string;
}

/** The session cookie of a request, or null. Only the web server knows whether it is good. */
export function sessionOf(cookies: string | undefined | null): Session | null {
  const found = /(?:^|;\s*)(?:__Secure-)?better-auth\.session_token=([^;]+)/.exec(cookies ?? '');
  if (!found) return null;
  try {
    const cookie = decodeURIComponent(found[1]);
    return { cookie, token: cookie.split('.', 1)[0] };
  } catch {
    return null;
  }
}

export class Guests {
  private readonly here = new Map<string, Guest & { cookie: string; at: number }>();
  private readonly now: () => number;

  constructor(now: () => number = Date.now) {
    this.now = now;
  }

  /** @param person what the web server says of the session it just answered. @param ended whom it has sent away: sessions by token, or everybody of an account. */
  hear(session: Session | null, person: string | string[] | undefined, ended: string | string[] | undefined): void {
    if (session && typeof person === 'string') {
      const [id, name] = person.split(' ').map(decodeURIComponent);
      this.here.delete(session.token);
      if (id) this.here.set(session.token, { id, name, cookie: session.cookie, at: this.now() });
      if (this.here.size > MOST) this.here.delete(this.here.keys().next().value!);
    }
    for (const word of String(ended ?? '')
      .split(' ')
      .filter(Boolean)) {
      const [kind, value] = word.split(':').map(decodeURIComponent);
      for (const [token, { id }] of this.here) if (kind === 'session' ? token === value : id === value) this.here.delete(token);
    }
  }

  /** Who it is, when the very same cookie was let in lately. */
  known(session: Session | null): Guest | null {
    const guest = session && this.here.get(session.token);
    if (!guest || guest.cookie !== session.cookie || this.now() - guest.at > FORGOTTEN) return null;
    return { id: guest.id, name: guest.name };
  }
}
