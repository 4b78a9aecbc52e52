// npm run api-types: writes the types of the interface's client anew.
import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { clientTypes } from '../server/http/contract/client-types.ts';
import { openApiDocument } from '../server/http/contract/document.ts';
import { allEndpoints } from '../server/http/endpoints/index.ts';

const endpoints = allEndpoints({ listen: () => undefined, endSessions: () => undefined });
const file = fileURLToPath(new URL('../web/lib/api-types.ts', import.meta.url));
writeFileSync(file, await clientTypes(openApiDocument(endpoints)));
