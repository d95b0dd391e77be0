// eslint-disable-next-line @typescript-eslint/triple-slash-reference -- a package without typings, declared in core
/// <reference path="../../core/src/artwork/dxf-writer.d.ts" />
import type { Role } from '$lib/server/auth';
import type { Session } from './door/guests';

declare global {
  namespace App {
    interface Locals {
      user: { id: string; name: string; email: string; role: Role } | null;
      /** The session cookie as it came. */
      session: Session | null;
      /** The database could not be asked who it is. */
      unsure: boolean;
      /** The id of this request, in the log and on its answer. */
      request: string;
      /** Whom this request has sent away: `session:TOKEN` or `user:ID`. The door is told. */
      ended: string[];
    }
    interface Error {
      message: string;
      /** The id of the request, for whoever reads the log. */
      request?: string;
    }
  }
}

export {};
