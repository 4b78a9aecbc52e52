// npm run api-types: writes what the interface's client knows of the endpoints anew.
import { writeFileSync } from 'node:fs';
import { clientAddresses } from '../server/http/contract/client-addresses.ts';
import { clientTypes } from '../server/http/contract/client-types.ts';
import { openApiDocument } from '../server/http/contract/document.ts';
import { allEndpoints } from '../server/http/endpoints/index.ts';

const document = openApiDocument(allEndpoints({ listen: () => undefined, endSessions: () => undefined }));
const write = (name: string, text: string) => {
  writeFileSync(new URL(`../web/lib/${name}`, import.meta.url), text);
};
write('api-types.ts', await clientTypes(document));
write('api-addresses.ts', clientAddresses(document));
