/** What trials found at the machine, each tried again in the browser: stops, second bits, processes that are away, a controller that is only described. */
import { spawn, type ChildProcess } from 'node:child_process';
import { connect } from 'node:net';
import { expect, test, type Page } from '@playwright/test';
import { changeBit, comeIn, control, finished, makeJob, planned, press, release, saved, setUp, stage, startCutting, toTheRun } from './shop';
import { COMMON } from '../src/lib/labels/common';
import { MACHINES } from '../src/lib/labels/machines';
import { PROGRAM } from '../src/lib/labels/program';
import { RUN } from '../src/lib/labels/run';
import { SETUP } from '../src/lib/labels/setup';

const jobNamed = (name: string, over: Record<string, unknown> = {}) => ({
  kerbe: 4,
  name,
  board: { width: 200, height: 80, thickness: 12, holdDown: 'tape' },
  items: {
    words: { kind: 'text', id: 'words', x: 100, y: 40, text: 'Fen', face: 'playfair', capHeight: 25 },
    edge: { kind: 'rectangle', id: 'edge', x: 100, y: 40, width: 180, height: 60, radius: 8 },
  },
  itemOrder: ['words', 'edge'],
  outline: 'edge',
  tools: { v: { kind: 'v', id: 'v', angle: 60, diameter: 12.7 }, e: { kind: 'end', id: 'e', diameter: 6.35, fluteLength: 25 } },
  cuts: { carve: { kind: 'vcarve', id: 'carve', on: 'words', tool: 'v' }, out: { kind: 'profile', id: 'out', on: 'outline', tool: 'e' } },
  cutOrder: ['carve', 'out'],
  ...over,
});

let page: Page;
let faults: string[];
test.describe.configure({ mode: 'serial' });
test.beforeAll(async ({ browser }) => {
  ({ page, faults } = await comeIn(browser));
  await expect(page.getByRole('link', { name: /Heron Walk/ }).first()).toBeVisible();
});
test.afterAll(() => page.close());

/** Straight to the machine, as a program beside the page would. */
const tell = async (data: Record<string, unknown>, machine = 'simulated-router') =>
  (
    await page.request.post(`/api/machines/${machine}/command`, {
      data,
      headers: { 'idempotency-key': crypto.randomUUID(), origin: new URL(page.url()).origin },
    })
  ).json();
const bench = (change: Record<string, unknown>) => tell({ do: 'bench', change });
const word = (text: string) => page.locator('.state', { hasText: text });

test('stopped under the second bit it goes on: the refusal is said where it was pressed, and the set-up asks for that bit', async () => {
  await toTheRun(page, jobNamed('Second bit'));
  await startCutting(page);
  await changeBit(page);
  await page.waitForTimeout(800);
  await press(page, /^Stop$/);
  await expect(word('Stopped')).toBeVisible();
  // Somebody tidies up: the straight bit is taken out, and the V put back.
  const putBack = () => bench({ bit: { shape: { kind: 'v', id: 'v', angle: 60, diameter: 12.7 }, stickOut: 40 } });
  await expect.poll(async () => (await putBack()).why, { timeout: 60_000 }).toBeNull();
  await page.getByLabel(RUN.iAmAtTheMachine).check();
  await press(page, RUN.goOnFromWhereIt);
  const sheet = page.getByRole('dialog');
  await sheet.getByRole('button', { name: /^Go on from line \d+$/ }).click();
  await expect(sheet.getByRole('alert')).toContainText('Before the start');
  await sheet.getByRole('button', { name: /^Set up for line \d+$/ }).click();
  await expect(page.getByText(/This run goes on from line \d+ of \d+, with e/)).toBeVisible();
  // Nothing is lost on reload.
  await page.reload();
  await planned(page);
  await stage(page, 'Set up');
  await expect(page.getByText(/This run goes on from line \d+/)).toBeVisible();
  const asked = await setUp(page);
  expect(asked).toContain('Fit end mill, 6.35 mm');
  expect(asked).not.toContain('Fit 60° V, 12.7 mm');
  await press(page, SETUP.goToTheRun);
  await startCutting(page, /^Go on from line \d+$/);
  await finished(page);
  // The record counts it against what was left, not against the whole.
  await stage(page, 'Record');
  const seconds = async (state: RegExp) => {
    const text = (await page.getByRole('button', { name: state }).first().innerText()).replace(/\s+/g, ' ');
    const [, minutes, rest] = /of (?:(\d+) min )?(\d+) s planned/.exec(text)!;
    return 60 * Number(minutes ?? 0) + Number(rest);
  };
  expect(await seconds(/^finished/)).toBeLessThan(await seconds(/^stopped/));
});

test('one program for each bit: each is set up for and run by itself, one after the other', async () => {
  const id = await makeJob(page, jobNamed('Each bit', { program: { split: 'tool' } }));
  await page.goto(`/job/${id}`);
  await release(page);
  await press(page, PROGRAM.goToTheMachine);
  const asked = await setUp(page);
  expect(asked.join()).not.toContain('Fit end mill');
  await press(page, SETUP.goToTheRun);
  await startCutting(page);
  await finished(page);
  await press(page, 'On to program 2 of 2');
  expect(await setUp(page)).toContain('Fit end mill, 6.35 mm');
  await press(page, SETUP.goToTheRun);
  await expect(page.getByText(/Program 2 of 2/)).toBeVisible();
  await startCutting(page);
  await finished(page);
  // What ran are the two, and not the one that pauses.
  const rows = await page.evaluate(async (job) => (await (await fetch(`/job/${job}/__data.json`)).text()).match(/program-\d[^"]*\.nc/g), id);
  expect(new Set(rows)).toContain('program-2-end-6.35.nc');
});

test('the cable out when Stop is pressed: not said to stand until the machine says so, and told first when it answers', async () => {
  await toTheRun(page, jobNamed('Cable'));
  await startCutting(page);
  await bench({ fault: { kind: 'link-drop', seconds: 12 } });
  await expect(word('No link to the machine')).toBeVisible();
  await press(page, /^Stop$/);
  await expect(page.getByRole('alert').filter({ hasText: 'has not been told to stop' })).toBeVisible();
  await expect(word('Stop is not confirmed')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Stop$/ })).toBeEnabled();
  await expect(word('Stopped')).toBeVisible({ timeout: 60_000 });
  const state = await page.evaluate(
    () =>
      new Promise<{ snapshot: { status: unknown } }>((done) => {
        const source = new EventSource('/api/machines/events?machine=simulated-router');
        source.addEventListener('machine', ({ data }) => {
          source.close();
          done(JSON.parse(data as string));
        });
      }),
  );
  expect(state.snapshot.status).toMatchObject({ queued: 0, spindle: { target: 0 } });
  // And it can begin again.
  await stage(page, 'Set up');
  await setUp(page);
  await press(page, SETUP.goToTheRun);
  await startCutting(page, 'Start again from the beginning');
});

test('the agent dead in a run: the old state looks old, and what can be done is said', async () => {
  await control('kill/agent of simulated-router');
  await expect(word('Not known')).toBeVisible({ timeout: 45_000 });
  await expect(page.getByRole('alert')).toContainText(/its\s+own\s+red\s+button\s+stops\s+it. Last heard at .*: cutting, line \d+/);
  await expect(page.getByText('Cutting', { exact: true })).toHaveCount(0);
  await control('again/agent of simulated-router');
  await expect(word('No link to the machine')).toBeVisible({ timeout: 60_000 });
  await press(page, RUN.resume);
  await expect(word('Cutting')).toBeVisible();
});

test('the web server restarted in a run: the run goes on, and is there again', async () => {
  await control('kill/web server');
  await expect(page.getByText(/Connection lost/)).toBeVisible({ timeout: 45_000 });
  await control('again/web server');
  await expect(page.getByText(/Connection lost/)).toHaveCount(0, { timeout: 90_000 });
  await page.reload();
  await planned(page);
  await stage(page, 'Run');
  await changeBit(page);
});

test('the database away when the run ends: the screen stays, says so, and the record is written when it is back', async () => {
  await control('stop');
  await finished(page);
  await expect(page.getByText(/so the record is not written yet/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('button', { name: RUN.seeTheRecord })).toBeVisible();
  await control('start');
  await expect(page.getByText(/so the record is not written yet/)).toHaveCount(0, { timeout: 90_000 });
  await press(page, RUN.seeTheRecord);
  await expect(page.getByRole('button', { name: /^finished/ }).first()).toBeVisible({ timeout: 45_000 });
});

test.describe('a controller that is only described', () => {
  let standin: ChildProcess;
  let barn = '';
  const tellBarn = (command: Record<string, unknown>) => tell(command, barn);
  const ports: Record<string, number> = {};
  test.beforeAll(async () => {
    const { bundles } = (await import('../../scripts/bundle.mjs')) as { bundles: { plain: () => Promise<string> } };
    standin = spawn(process.execPath, [await bundles.plain(), '--rate', '40'], { stdio: ['ignore', 'pipe', 'inherit'] });
    let said = '';
    await new Promise<void>((done) =>
      standin.stdout!.on('data', (data) => {
        said += String(data);
        for (const [, name, port] of said.matchAll(/(listening|hands) (\d+)/g)) ports[name] = Number(port);
        if (ports.listening && ports.hands) done();
      }),
    );
  });
  test.afterAll(async () => {
    await page.goto('/machines');
    await page.getByRole('button', { name: /^Barn router/ }).click();
    await press(page, MACHINES.unlink('Barn router'));
    await expect(page.getByRole('button', { name: /Barn router/ }).first()).toContainText('not linked');
    standin.kill();
  });
  /** A person's hands at it. */
  const hands = (change: Record<string, unknown>) =>
    new Promise<string>((done, fail) => {
      const socket = connect({ host: '127.0.0.1', port: ports.hands }, () => socket.write(JSON.stringify(change) + '\n'));
      socket.once('data', (data) => {
        socket.destroy();
        done(String(data));
      });
      socket.once('error', fail);
    });

  test('from New machine to a finished board, without a sensor and with nothing seeded', async () => {
    await page.goto('/machines');
    await press(page, MACHINES.aNewMachineMore);
    const card = page.locator('section.card').first();
    await card.getByLabel(COMMON.name, { exact: true }).fill('Barn router');
    await card.getByText(MACHINES.sensorPlatesBlocksClamps).click();
    await press(page, MACHINES.removeTheToolSensor);
    await card.getByText(MACHINES.bed, { exact: true }).click();
    for (const name of ['a vacuum', 'dust extraction', 'location pins']) await card.getByLabel(name).uncheck();
    await card.getByText(COMMON.spindle, { exact: true }).click();
    await card.getByLabel(MACHINES.warmUp).fill('0');
    await card.getByLabel(MACHINES.warmUp).press('Tab');
    await card.getByText(MACHINES.connection).click();
    await card.getByLabel(MACHINES.port, { exact: true }).fill(String(ports.listening));
    await card.getByLabel(MACHINES.port, { exact: true }).press('Tab');
    await card.getByLabel(MACHINES.protocol).selectOption('plain');
    const words: [string, string][] = [
      ['Ask for the status', 'WHERE\\n'],
      ['Hold', 'STILL\\n'],
      ['Resume', 'ON\\n'],
      ['Stop', 'ENOUGH\\n'],
      ['Clear an alarm', 'CLEAR\\n'],
      ['Home', 'GO-HOME\\n'],
      ['A line was taken', '^fine$'],
      ['A line was refused, and why', '^nope (.*)$'],
      ['The status, by named groups', '^at (?<state>\\w+) (?<x>\\S+) (?<y>\\S+) (?<z>\\S+) work (?<wx>\\S+) (?<wy>\\S+) (?<wz>\\S+)$'],
      [MACHINES.itsWordFor('idle'), '^resting$'],
      [MACHINES.itsWordFor('run'), '^busy$'],
      [MACHINES.itsWordFor('hold'), '^standing$'],
      [MACHINES.itsWordFor('alarm'), '^trouble$'],
    ];
    for (const [label, text] of words) await card.getByLabel(label, { exact: true }).fill(text);
    const made = page.waitForResponse((response) => response.url().endsWith('/api/machines') && response.request().method() === 'POST');
    await press(page, COMMON.save);
    barn = ((await (await made).json()) as { id: string }).id;
    await page
      .getByRole('button', { name: /Barn router/ })
      .first()
      .click();
    await press(page, 'Link Kerbe to Barn router');
    await expect(page.getByRole('button', { name: /Barn router/ }).first()).toContainText('linked ·');
    const id = await makeJob(page, { ...jobNamed('Barn'), machine: { id: 'simulated-router', name: 'Simulated router' } });
    await page.goto(`/job/${id}`);
    // The job goes over to it on Board, and back with Undo.
    await stage(page, 'Board');
    const choice = page.getByLabel(COMMON.machine, { exact: true });
    await expect(choice).toHaveValue('simulated-router');
    await choice.selectOption({ label: 'Barn router' });
    await page.keyboard.press('Control+z');
    await expect(choice).toHaveValue('simulated-router');
    await choice.selectOption({ label: 'Barn router' });
    await saved(page);
    await release(page);
    await press(page, PROGRAM.goToTheMachine);
    await press(page, SETUP.homeTheMachine);
    expect(await hands({ board: { x: 180, y: 220, width: 200, height: 80, thickness: 12 } })).toContain('fine');
    await press(page, /^Confirm$/);
    expect(await hands({ bit: { shape: { kind: 'v', id: 'v', angle: 60, diameter: 12.7 }, stickOut: 42 } })).toContain('fine');
    await press(page, /12\.7 mm is fitted$/);
    await press(page, SETUP.itIsTightAndNot);
    // The tip over the front left corner, as a person jogs it there.
    await tellBarn({ do: 'take' });
    expect((await tellBarn({ do: 'move-over', x: 180, y: 220 })).why).toBeNull();
    await page.getByRole('button', { name: SETUP.takeControl }).click();
    await press(page, SETUP.xAndYAreZero);
    await expect(page.getByRole('button', { name: SETUP.touchPlate })).toHaveCount(0);
    const lower = async (stickOut: number) => {
      await tellBarn({ do: 'take' });
      await expect.poll(async () => (await tellBarn({ do: 'move-over', x: 280, y: 240 })).why, { timeout: 45_000 }).toBeNull();
      expect((await tellBarn({ do: 'jog', x: 0, y: 0, z: 12.1 - 150 + stickOut, feed: 3000 })).why).toBeNull();
      await page.waitForTimeout(1500);
      await page.getByRole('button', { name: SETUP.takeControl }).click();
    };
    await lower(42);
    await press(page, SETUP.thePaperIsGripped);
    await press(page, /^Done$/);
    await press(page, SETUP.goAroundTheJob);
    await press(page, /^Confirm$/);
    await press(page, SETUP.goToTheRun);
    await startCutting(page);
    await expect(page.getByText('Change the bit', { exact: true })).toBeVisible({ timeout: 90_000 });
    expect(await hands({ bit: { shape: { kind: 'end', id: 'e', diameter: 6.35, fluteLength: 25 }, stickOut: 33 } })).toContain('fine');
    await press(page, /^end mill.* is fitted$/);
    await expect(page.getByText('touch Z zero with the new bit')).toBeVisible();
    await page.getByLabel(RUN.itIsTightToolsAre).check();
    await lower(33);
    await press(page, SETUP.thePaperIsGripped);
    await press(page, RUN.goOnCutting);
    await finished(page);
  });
});

test('nothing went wrong unseen', () => {
  expect(faults).toEqual([]);
});
