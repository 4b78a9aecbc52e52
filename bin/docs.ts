// npm run docs: writes the documents that are made from the code.
import { writeFileSync } from 'node:fs';
import { tweaksDocument } from '../core/captions/table.ts';
import { networksDocument } from '../server/connectors/table.ts';

writeFileSync(new URL('../docs/networks.md', import.meta.url), networksDocument());
writeFileSync(new URL('../docs/tweaks.md', import.meta.url), tweaksDocument());
