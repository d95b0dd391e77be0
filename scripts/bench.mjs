// npm run bench: the core in Node, then the board in a browser, then the machine side. Ratios side by side; seconds are this machine's.
import { pathToFileURL } from 'node:url';
import { install } from './install.mjs';

install({ browser: true });
const { bundle } = await import('./bundle.mjs');
await import(pathToFileURL(await bundle('core/bench/bench.ts', 'core/dist/bench.mjs', ['core/bench', 'core/src'])).href);
if (!process.argv.includes('--core')) {
  const { benchBoard } = await import('./bench-board.mjs');
  console.log('');
  await benchBoard();
  const { benchMachine } = await import('./bench-machine.mjs');
  console.log('');
  await benchMachine();
}
