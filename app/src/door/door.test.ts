/** What the door believes: of addresses, and of who was let in. */
import { describe, expect, it } from 'vitest';
import { addressOf } from './address';
import { Guests, sessionOf } from './guests';

describe('where a request comes from', () => {
  const proxies = new Set(['10.0.0.1', '10.0.0.2']);
  it.each([
    ['nothing in between', '192.0.2.7', undefined, '192.0.2.7'],
    ['an address brought along by anybody', '192.0.2.7', '203.0.113.9', '192.0.2.7'],
    ['a named proxy', '10.0.0.1', '203.0.113.9', '203.0.113.9'],
    ['a named proxy, and a lie before it', '10.0.0.1', '198.51.100.1, 203.0.113.9', '203.0.113.9'],
    ['two named proxies', '10.0.0.1', '203.0.113.9, 10.0.0.2', '203.0.113.9'],
    ['a proxy that says nothing', '10.0.0.1', undefined, '10.0.0.1'],
    ['IPv4 on an IPv6 socket', '::ffff:10.0.0.1', '203.0.113.9', '203.0.113.9'],
    ['IPv6', '2001:db8::1', '203.0.113.9', '2001:db8::1'],
  ])('%s', (_, remote, forwarded, found) => expect(addressOf(remote, forwarded, proxies)).toBe(found));
  it('with no proxy named, nobody is believed', () => expect(addressOf('10.0.0.1', '203.0.113.9', new Set())).toBe('10.0.0.1'));
});

describe('whom the web server has let in', () => {
  const session = sessionOf('a=b; better-auth.session_token=token1.sig%2B1')!;
  it('a session is its cookie, named by what stands before the dot', () => {
    expect(session).toEqual({ token: 'token1', cookie: 'token1.sig+1' });
    expect(sessionOf('__Secure-better-auth.session_token=t.s')).toEqual({ token: 't', cookie: 't.s' });
    for (const none of [undefined, '', 'other=1', 'better-auth.session_token=%E0%A4%A']) expect(sessionOf(none)).toBeNull();
  });
  it('is known by the very same cookie, and by no other with the same name', () => {
    const guests = new Guests();
    expect(guests.known(session)).toBeNull();
    guests.hear(session, 'id1 Reed%20Bunting', undefined);
    expect(guests.known(session)).toEqual({ id: 'id1', name: 'Reed Bunting' });
    expect(guests.known({ ...session, cookie: 'token1.forged' })).toBeNull();
    expect(guests.known(null)).toBeNull();
  });
  it('is forgotten when the server says so: the session, everybody of the account, or that nobody is there', () => {
    const guests = new Guests();
    const other = { token: 'token2', cookie: 'token2.s' };
    const enter = () => [session, other].forEach((one) => guests.hear(one, 'id1 Reed', undefined));
    enter();
    guests.hear(other, undefined, 'session:token1');
    expect([guests.known(session), guests.known(other)?.id]).toEqual([null, 'id1']);
    enter();
    guests.hear(null, undefined, 'user:id1');
    expect([guests.known(session), guests.known(other)]).toEqual([null, null]);
    enter();
    guests.hear(session, '', undefined);
    expect(guests.known(session)).toBeNull();
    expect(guests.known(other)?.id).toBe('id1');
  });
  it('is asked for anew after half a day, and only so many are kept', () => {
    let now = 0;
    const guests = new Guests(() => now);
    guests.hear(session, 'id1 Reed', undefined);
    now = 13 * 3600e3;
    expect(guests.known(session)).toBeNull();
    guests.hear(session, 'id1 Reed', undefined);
    for (let k = 0; k < 3000; k++) guests.hear({ token: `t${k}`, cookie: `t${k}.s` }, 'id2 Other', undefined);
    expect(guests.known(session)).toBeNull();
    expect(guests.known({ token: 't2999', cookie: 't2999.s' })?.id).toBe('id2');
  });
});
