// npm run bench: bundles core/bench/bench.ts and runs it.
import { pathToFileURL } from 'node:url';
import { install } from './install.mjs';

install();
const { bundle } = await import('./bundle.mjs');
await import(pathToFileURL(await bundle('core/bench/bench.ts', 'core/dist/bench.mjs', ['core/bench', 'core/src'])).href);
