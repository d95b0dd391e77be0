/** What is watched of the web server, as Prometheus reads it: requests, heavy work, agents, runs, and the process itself. */
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import { linkedAgents } from './agents';
import { HEAVY, heavyNow, onHeavy } from './children';
import { connection, db } from './db';

export const registry = new Registry();
collectDefaultMetrics({ register: registry, prefix: 'kerbe_' });

const requests = new Histogram({
  name: 'kerbe_http_request_seconds',
  help: 'How long requests took, by route.',
  labelNames: ['route', 'method', 'status'],
  buckets: [0.005, 0.02, 0.05, 0.15, 0.3, 1, 3, 10, 60],
  registers: [registry],
});
/** Routes by their pattern, never by what stands in them: there are as many of them as files. */
export const requestTook = (route: string | null, method: string, status: number, seconds: number): void =>
  requests.observe({ route: route ?? 'none', method, status: String(status) }, seconds);

const heavySeconds = new Histogram({
  name: 'kerbe_heavy_work_seconds',
  help: 'How long heavy work took once it was begun, by kind and how it ended.',
  labelNames: ['kind', 'ended'],
  buckets: [0.05, 0.2, 1, 5, 20, 60, 300],
  registers: [registry],
});
onHeavy((kind, seconds, ended) => heavySeconds.observe({ kind, ended }, seconds));

new Gauge({
  name: 'kerbe_heavy_work',
  help: 'Heavy work under way and waiting, by kind.',
  labelNames: ['kind', 'state'],
  registers: [registry],
  collect() {
    for (const kind of HEAVY) {
      const { busy, waiting } = heavyNow(kind);
      this.set({ kind, state: 'busy' }, busy);
      this.set({ kind, state: 'waiting' }, waiting);
    }
  },
});
new Gauge({
  name: 'kerbe_agents',
  help: 'Agents there are, and those that answer; machines they are linked to that answer.',
  labelNames: ['state'],
  registers: [registry],
  collect() {
    const agents = linkedAgents();
    this.set({ state: 'known' }, agents.length);
    this.set({ state: 'answering' }, agents.filter(({ agent }) => agent).length);
    this.set({ state: 'machine answering' }, agents.filter(({ link }) => link).length);
  },
});
new Gauge({
  name: 'kerbe_runs',
  help: 'Runs in the record by how they stand.',
  labelNames: ['state'],
  registers: [registry],
  async collect() {
    this.reset();
    const rows = await db()
      .selectFrom('run')
      .select(['state', (eb) => eb.fn.countAll<string>().as('count')])
      .groupBy('state')
      .execute()
      .catch(() => []);
    for (const { state, count } of rows) this.set({ state }, Number(count));
  },
});
new Gauge({
  name: 'kerbe_database_connections',
  help: 'Connections to the database: open, idle, and how many wait for one.',
  labelNames: ['state'],
  registers: [registry],
  collect() {
    const { pool } = connection();
    this.set({ state: 'open' }, pool.totalCount);
    this.set({ state: 'idle' }, pool.idleCount);
    this.set({ state: 'waiting' }, pool.waitingCount);
  },
});
