import type { Pool } from '@/api/client'

/** Make a pool one of another kind; what that kind cannot have goes with the change. */
export function becomes(pool: Pool, kind: Pool['kind']): void {
  pool.kind = kind
  if (kind !== 'shared') pool.session_limit = 1
  if (kind !== 'dedicated') {
    pool.assigned = []
    return
  }
  pool.hosts = { standing: pool.hosts.standing + pool.hosts.surge, surge: 0, throwaway: false }
  pool.reset_seconds = 0
}
