import type { World } from '@playa/core/model/world.ts';
import type { z } from 'zod';
import type { worldSchema } from './schemas.ts';

/** A brand's world as it is sent: lists in place of maps. */
export const worldAnswer = (world: World): z.input<typeof worldSchema> => ({
  timeZone: world.timeZone,
  locale: world.locale,
  policy: world.policy,
  secrets: world.secrets,
  outlets: [...world.outlets.values()],
  watches: [...world.watches.values()],
  colleagues: [...(world.colleagues ?? [])].map(([id, name]) => ({ id, name })),
  snippets: [...(world.snippets ?? [])].map(([name, text]) => ({ name, text })),
  files: [...(world.files?.values() ?? [])],
});
