#!/usr/bin/env node
import { bundles } from '../../scripts/bundle.mjs';
import { fileURLToPath, pathToFileURL } from 'node:url';

const load = async (script) => import(pathToFileURL(script).href);
const args = process.argv.slice(2);
// Whoever reads what we say may stop reading.
process.stdout.on('error', (error) => process.exit(error.code === 'EPIPE' ? 0 : 1));
// The process that does it carries this mark; the one before it loads nothing but the bounds.
if (process.env.KERBE_WITHIN) process.exitCode = await (await load(await bundles.cli())).main(args);
else process.exitCode = await (await load(await bundles.within())).within(fileURLToPath(import.meta.url), args);
