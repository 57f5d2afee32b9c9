import { pathToFileURL } from 'node:url';
import { join } from 'node:path';
import { checkNode, needCommand, needNodePackages, ROOT } from './packages.mjs';

// The command line: built once, so that each call of it is there in half a second.
checkNode();
needNodePackages();
needCommand();
await import(pathToFileURL(join(ROOT, 'cli/dist/main.js')).href);
