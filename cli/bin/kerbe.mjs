#!/usr/bin/env node
import { bundles } from '../../scripts/bundle.mjs';
import { pathToFileURL } from 'node:url';

const { main } = await import(pathToFileURL(await bundles.cli()).href);
process.exitCode = await main(process.argv.slice(2));
