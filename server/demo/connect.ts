import { beginConnect, finishConnect } from '../accounts/connect.ts';
import { connectByForm } from '../accounts/sign-in.ts';
import type { Services } from '../base/services.ts';
import type { AccountKind } from '../store/accounts.ts';
import * as users from '../store/users.ts';
import { consentAs, lagoonKey } from './lagoon.ts';

/** Connects an account of Mo's as a person would: by a yes on a consent page, or with a key made at Lagoon. */
export async function connectForDemo(
  services: Services,
  userId: number,
  brandId: number,
  kind: AccountKind,
): Promise<number> {
  const brand = (await users.brandById(services.pool, brandId))!;
  if (kind === 'mail') {
    const mailbox = { user: 'mo', password: 'letters', from: 'mo@ternbay.example' };
    return connectByForm(services, brand, kind, mailbox);
  }
  if (services.connectors[kind].signIn.by === 'form')
    return connectByForm(services, brand, kind, { token: await lagoonKey(services, kind, 1, 'Pool bot') });
  const page = await beginConnect(services, { brandId, userId, kind, backTo: '/accounts' });
  const answer = await consentAs(services, 1, page);
  const brands = await users.brandsOf(services.pool, userId);
  return (await finishConnect(services, userId, answer, (id) => brands.find((each) => each.id === id))).accountId;
}
