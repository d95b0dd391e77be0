// All of Kerbe on loopback: database, simulated machines, an agent for each machine, web server. Used by start, tests and screenshots.
import { spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { connect } from 'node:net';
import { dirname, join } from 'node:path';
import { bundles, newest, root } from './bundle.mjs';
import { startDatabase } from './database.mjs';
import { startKeeper } from './keeper.mjs';
import { freePort, markOf, startNode } from './processes.mjs';

/** Builds the application when its sources are newer than the last build. */
export function buildApp(say = () => {}) {
  const out = join(root, 'app/build/index.js');
  if (existsSync(out) && statSync(out).mtimeMs > Math.max(newest(['app/src', 'core/src', 'app/static']), statSync(join(root, 'package-lock.json')).mtimeMs))
    return;
  say('building the application (about half a minute)');
  const vite = createRequire(join(root, 'app/package.json')).resolve('vite/package.json');
  const built = spawnSync(process.execPath, [join(dirname(vite), 'bin/vite.js'), 'build'], { cwd: join(root, 'app'), encoding: 'utf8' });
  if (built.status !== 0) throw new Error(`The application could not be built:\n${built.stdout}\n${built.stderr}`);
}

/** Secrets of this installation, made once. */
function secretsIn(home) {
  const file = join(home, 'secrets.json');
  const known = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : {};
  const missing = ['auth', 'agent', 'machine', 'door', 'keeper', 'metrics', 'demo', 'firstOwner'].filter((name) => !known[name]);
  if (missing.length === 0) return known;
  const secrets = { ...known, ...Object.fromEntries(missing.map((name) => [name, randomBytes(24).toString('base64url')])) };
  writeFileSync(file, JSON.stringify(secrets), { mode: 0o600 });
  return secrets;
}

/** Who ends so often within a minute is not helped by being started once more. */
const PATIENCE = 5;
const WITHIN = 60_000;
/** How often the database is looked at, milliseconds. */
const LOOK = 1000;

/** Does anything listen there? */
const listens = (port) =>
  new Promise((resolve) => {
    const socket = connect({ host: '127.0.0.1', port });
    const end = (is) => {
      socket.destroy();
      resolve(is);
    };
    socket.once('connect', () => end(true)).once('error', () => end(false));
    socket.setTimeout(2000, () => end(false));
  });

/** The simulated machines of a shop: one of each kind there is. */
const SIMULATED = [
  { id: 'simulated-router', kind: 'router' },
  { id: 'simulated-torch', kind: 'torch' },
  { id: 'simulated-laser', kind: 'laser' },
];

/**
 * Everything Kerbe is made of. With `supervise` a process that ends by itself is started again, and so is the
 * database, each by itself: the others go on. One that ends over and over is given up, and `onTrouble` told.
 *
 * `simulated`: the machines that come with Kerbe, one of each kind unless said otherwise. `taken` names a folder
 * in which each of them writes down every line it takes, in a file of its name.
 * With `demo` the invented shop is filled in and anybody on this computer may come in: never on another address.
 *
 * @param {{ home: string, port?: number, host?: string, demo?: boolean, rate?: number, simulated?: { id: string, kind: string }[], taken?: string, supervise?: boolean, say?: (text: string) => void, onTrouble?: (text: string) => void }} options
 */
export async function startStack({
  home,
  port,
  host = '127.0.0.1',
  demo = true,
  rate = 1,
  simulated = SIMULATED,
  taken,
  supervise = false,
  say = () => {},
  onTrouble = () => {},
}) {
  if (demo && host !== '127.0.0.1') throw new Error('The demo shop lets anybody in who comes by: it is only there on 127.0.0.1.');
  if (/^(0\.0\.0\.0|::)$/.test(host) && !process.env.KERBE_ORIGIN)
    throw new Error('Listening on every address, Kerbe must know the one people type: say it by KERBE_ORIGIN, such as http://192.168.1.20:5180.');
  mkdirSync(home, { recursive: true });
  const secrets = secretsIn(home);
  buildApp(say);
  const [machineScript, agentScript, heavy, doorScript] = await Promise.all([bundles.machine(), bundles.agent(), bundles.heavy(), bundles.door()]);
  say('starting the database');
  const database = await startDatabase(home, { say });
  const running = [];
  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    if (looking) clearInterval(looking);
    for (const process of running.reverse()) await process.stop();
    database.stop();
  };
  const deaths = new Map();
  /** May it be tried once more? */
  const mayTry = (name) => {
    const now = performance.now();
    const lately = [...(deaths.get(name) ?? []).filter((at) => now - at < WITHIN), now];
    deaths.set(name, lately);
    return lately.length <= PATIENCE ? 300 * lately.length : null;
  };
  const watch = (name) => (code, signal, tail) => {
    const at = running.findIndex((process) => process.name === name);
    if (stopping || at < 0) return;
    if (!supervise) return onTrouble(`${name} ended (${signal ?? code}).\n${tail}`);
    running.splice(at, 1);
    revive(name, `${name} ended (${signal ?? code}).\n${tail}`);
  };
  const revive = (name, why) => {
    const after = mayTry(name);
    if (after === null) return onTrouble(why);
    say(`${name} has ended; it is started again, the others go on`);
    setTimeout(async () => {
      if (stopping || !starts[name]) return;
      try {
        const started = await again(name);
        if (stopping) await started.stop();
      } catch (error) {
        if (!stopping) revive(name, error.message);
      }
    }, after);
  };
  let looking = null;
  const lookAfterDatabase = () => {
    let busy = false;
    looking = setInterval(async () => {
      if (busy || stopping) return;
      busy = true;
      if (!(await listens(database.port)) && !stopping) {
        if (mayTry('database') === null) onTrouble('the database ended, and does not stay up.');
        else {
          say('the database has ended; it is started again');
          database.start();
        }
      }
      busy = false;
    }, LOOK);
  };
  const starts = {};
  const begin = async (name, script, args, env) => {
    const log = join(home, 'logs', `${name.replace(/\W+/g, '-')}.log`);
    const process = await startNode(script, args, { ...env, ...markOf(home) }, { name, onExit: watch(name), log });
    starts[name] = { script, args: [...args, ...(args.includes('--port') || name === 'web server' ? [] : ['--port', String(process.port)])], env };
    running.push({ ...process, name });
    return process;
  };
  /** Ends one for good. */
  const end = async (name) => {
    delete starts[name];
    const at = running.findIndex((process) => process.name === name);
    if (at < 0) return;
    const [process] = running.splice(at, 1);
    await process.stop();
  };
  const processOf = (name) => running.find((process) => process.name === name)?.child.pid;
  /** For tests: takes a process away at once, as a crash would; and starts it again where it was. */
  const kill = (name) => {
    const at = running.findIndex((process) => process.name === name);
    const [{ child }] = running.splice(at, 1);
    return new Promise((done) => {
      child.once('exit', done);
      child.kill('SIGKILL');
    });
  };
  const again = (name) => begin(name, starts[name].script, starts[name].args, starts[name].env);
  try {
    say('starting the simulated machines, the agents and the web server');
    const tokens = { KERBE_AGENT_TOKEN: secrets.agent, KERBE_MACHINE_TOKEN: secrets.machine };
    // What an agent kept when there was one for all machines is that of the first.
    const [first] = simulated;
    if (existsSync(join(home, 'journal')) && !existsSync(join(home, 'machines', first.id))) {
      mkdirSync(join(home, 'machines'), { recursive: true, mode: 0o700 });
      renameSync(join(home, 'journal'), join(home, 'machines', first.id));
    }
    const keeper = await startKeeper({
      home,
      token: secrets.keeper,
      begin: async (machine, args) => {
        const name = `agent of ${machine}`;
        const { port } = await begin(name, agentScript, args, tokens);
        return { port, stop: () => end(name) };
      },
    });
    running.push({ name: 'keeper', stop: async () => keeper.close() });
    if (taken) mkdirSync(taken, { recursive: true });
    const machines = {};
    for (const { id, kind } of simulated) {
      const args = ['--kind', kind, '--rate', String(rate), ...(taken ? ['--taken', join(taken, id)] : [])];
      machines[id] = await begin(id, machineScript, args, { KERBE_MACHINE_TOKEN: secrets.machine });
      await keeper.startSimulated(id, kind, machines[id].port);
    }
    await keeper.startAll();
    const doorPort = port ?? (await freePort());
    const webPort = await freePort();
    const url = process.env.KERBE_ORIGIN ?? `http://${host}:${doorPort}`;
    const agentAccess = {
      KERBE_KEEPER_URL: keeper.url,
      KERBE_KEEPER_TOKEN: secrets.keeper,
      KERBE_AGENT_TOKEN: secrets.agent,
      KERBE_DOOR_TOKEN: secrets.door,
      ORIGIN: url,
    };
    const web = await begin('web server', join(root, 'app/build/index.js'), [], {
      HOST: '127.0.0.1',
      PORT: String(webPort),
      ...agentAccess,
      BODY_SIZE_LIMIT: '65M',
      SHUTDOWN_TIMEOUT: '1',
      NODE_ENV: 'production',
      DATABASE_URL: database.url,
      AUTH_SECRET: secrets.auth,
      KERBE_HEAVY: heavy,
      KERBE_METRICS_TOKEN: secrets.metrics,
      KERBE_SIMULATED: JSON.stringify(simulated),
      ...(demo ? { KERBE_DEMO: '1', KERBE_DEMO_PASSWORD: secrets.demo } : { KERBE_FIRST_OWNER: secrets.firstOwner }),
    });
    await begin('door', doorScript, ['--host', host, '--port', String(doorPort), '--web', String(webPort)], agentAccess);
    if (supervise) lookAfterDatabase();
    const firstOwner = `${url}/first-owner?key=${secrets.firstOwner}`;
    /** Where the agent of a machine is. */
    const agentOf = (machine = first.id) => keeper.agents.get(machine)?.url;
    return {
      url,
      port: doorPort,
      firstOwner,
      stop,
      database,
      web,
      machines,
      agentOf,
      kill,
      again,
      processOf,
      token: secrets.agent,
      metricsToken: secrets.metrics,
    };
  } catch (error) {
    await stop();
    throw error;
  }
}
