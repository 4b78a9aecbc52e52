// Every endpoint below /api. What is entered here is mounted, checked, described in the OpenAPI document and tried
// by the tests of all endpoints; nothing else is.
import type { Endpoint } from '../contract/endpoint.ts';
import type { ChangeTail } from '../events.ts';
import { accountEndpoints } from './accounts.ts';
import { auditEndpoints } from './audit.ts';
import { calendarEndpoints } from './calendar.ts';
import { consentEndpoints } from './consent.ts';
import { deskEndpoints } from './desk.ts';
import { deskSourceEndpoints } from './desk-sources.ts';
import { deskPolicyEndpoints } from './desk-policy.ts';
import { deskNumbersEndpoints } from './desk-numbers.ts';
import { documentEndpoint } from './document.ts';
import { fileEndpoints } from './files.ts';
import { healthEndpoints } from './health.ts';
import { hookEndpoints } from './hooks.ts';
import { logbookEndpoints } from './logbook.ts';
import { untidyEndpoints } from './untidy.ts';
import { brandFeedEndpoints } from './feed.ts';
import { meEndpoints } from './me.ts';
import { noticeEndpoints } from './notices.ts';
import { contactEndpoints } from './contacts.ts';
import { postEndpoints } from './posts.ts';
import { runEndpoints } from './runs.ts';
import { openRunEndpoints } from './open-runs.ts';
import { secretEndpoints } from './secrets.ts';
import { sessionEndpoints } from './session.ts';
import { sheetEndpoints } from './sheets.ts';
import { sheetFileEndpoints } from './sheet-files.ts';
import { sheetRowEndpoints } from './sheet-rows.ts';
import { sheetSyncEndpoints } from './sheet-syncs.ts';
import { signInEndpoints } from './sign-in.ts';
import { snippetEndpoints } from './snippets.ts';
import { sourceEndpoints } from './sources.ts';
import { newSourceEndpoints } from './new-sources.ts';
import { todayEndpoints } from './today.ts';
import { waitingEndpoints } from './waiting.ts';
import { viewEndpoints } from './views.ts';
import { voiceEndpoints } from './voice.ts';
import { workflowEndpoints } from './workflows.ts';
import { worldEndpoints } from './world.ts';
import { goingEndpoints } from './going.ts';
import { writtenPostEndpoints } from './written-posts.ts';

/**
 * @param tail tells open screens what changed
 * @param origin where Playa is reached, for the document that describes them
 */
export function allEndpoints(tail: Pick<ChangeTail, 'listen' | 'endSessions'>, origin = ''): Endpoint[] {
  const endpoints: Endpoint[] = [
    ...healthEndpoints,
    documentEndpoint(() => endpoints, origin),
    ...signInEndpoints(tail),
    ...meEndpoints,
    ...waitingEndpoints,
    ...sessionEndpoints(tail),
    ...consentEndpoints,
    ...todayEndpoints,
    ...calendarEndpoints,
    ...writtenPostEndpoints,
    ...worldEndpoints,
    ...sheetEndpoints,
    ...sheetFileEndpoints,
    ...sheetRowEndpoints,
    ...sheetSyncEndpoints,
    ...deskEndpoints,
    ...deskSourceEndpoints,
    ...deskPolicyEndpoints,
    ...voiceEndpoints,
    ...deskNumbersEndpoints,
    ...viewEndpoints,
    ...contactEndpoints,
    ...logbookEndpoints,
    ...untidyEndpoints,
    ...brandFeedEndpoints,
    ...workflowEndpoints,
    ...goingEndpoints,
    ...runEndpoints,
    ...openRunEndpoints,
    ...sourceEndpoints,
    ...newSourceEndpoints,
    ...hookEndpoints,
    ...accountEndpoints,
    ...secretEndpoints,
    ...snippetEndpoints,
    ...fileEndpoints,
    ...postEndpoints,
    ...noticeEndpoints,
    ...auditEndpoints,
  ];
  return endpoints;
}
