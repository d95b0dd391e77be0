// eslint-disable-next-line @typescript-eslint/triple-slash-reference -- a package without typings, declared in core
/// <reference path="../../core/src/artwork/dxf-writer.d.ts" />
import type { Role } from '$lib/server/auth';

declare global {
  namespace App {
    interface Locals {
      user: { id: string; name: string; email: string; role: Role } | null;
    }
    interface Error {
      message: string;
    }
  }
}

export {};
