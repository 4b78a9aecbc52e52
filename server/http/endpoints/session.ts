import { brandEndpoint, userEndpoint } from '../contract/endpoint.ts';
import { beginStream, type ChangeTail } from '../events.ts';
import { forgetSession, sessionHashOf } from '../visitor.ts';
import { endAllSessions } from '../../store/users.ts';

/** What goes on as long as somebody is signed in. */
export const sessionEndpoints = (tail: Pick<ChangeTail, 'listen' | 'endSessions'>) => [
  userEndpoint({
    method: 'post',
    path: '/sign-out/everywhere',
    name: 'signOutEverywhere',
    says: 'Ends every session of whoever asks, on all devices.',
    answer: null,
    async run({ services, user, res }) {
      tail.endSessions(await endAllSessions(services.pool, user.id));
      forgetSession(res);
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/events',
    name: 'listen',
    says: 'What changes in the brand, as server-sent events (HTML, section 9.2), for fetching it anew.',
    may: 'see',
    answer: null,
    answersItself: 'text/event-stream',
    async run({ brand, req, res }) {
      beginStream(res);
      // Whoever got here has one.
      tail.listen(res, brand.id, sessionHashOf(req)!);
    },
  }),
];
