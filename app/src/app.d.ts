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
