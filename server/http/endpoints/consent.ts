import { NoRoom } from '../../store/room.ts';
import { z } from 'zod';
import { finishConnect } from '../../accounts/connect.ts';
import { NetworkTrouble } from '../../connectors/connector.ts';
import { backToSchema } from '../back-to.ts';
import { userEndpoint } from '../contract/endpoint.ts';
import { Problem } from '../problem.ts';

/** What a trouble's address is signed for. */
const TROUBLE = 'trouble';

/** Where networks send people back to after their consent page. */
export const consentEndpoints = [
  userEndpoint({
    method: 'get',
    path: '/oauth/callback',
    name: 'finishConnect',
    says: 'Where a network sends a person back to; leads on to the interface.',
    answer: null,
    answersItself: 'text/html',
    async run({ services, user, brands, req, res }) {
      const answer = new URL(req.originalUrl, services.config.origin).searchParams;
      try {
        const done = await finishConnect(services, user.id, answer, (id) => brands.find((brand) => brand.id === id));
        const back = new URL(backToSchema.safeParse(done.backTo).data ?? '/accounts', services.config.origin);
        back.searchParams.set('connected', String(done.accountId));
        res.redirect(303, back.pathname + back.search);
      } catch (error) {
        if (!(error instanceof NetworkTrouble || error instanceof NoRoom)) throw error;
        // Signed, so that nobody can have Playa say words of theirs by a link.
        const said = Buffer.from(error.message).toString('base64url');
        res.redirect(303, `/accounts?trouble=${said}.${services.vault.sign(said, TROUBLE)}`);
      }
    },
  }),
  userEndpoint({
    method: 'get',
    path: '/oauth/trouble/{token}',
    name: 'readTrouble',
    says: 'The words of a trouble that this server itself put into an address.',
    params: z.object({ token: z.string().max(4000) }),
    answer: z.object({ says: z.string() }),
    async run({ services, params: { token } }) {
      const [said = '', signature = ''] = token.split('.');
      if (!services.vault.isSigned(said, TROUBLE, signature)) throw new Problem(404, 'Nothing of the sort was said.');
      return { says: Buffer.from(said, 'base64url').toString('utf8') };
    },
  }),
];
