import { z } from 'zod';
import { numbersOf, SILENT_AFTER } from '../../desk/numbers.ts';
import { outletsOf } from '../../store/outlets.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { moment } from '../contract/schemas.ts';

const time = z.number().nullable().meta({ description: 'Milliseconds; null where too many still wait to know.' });
const speed = {
  asked: z.number().meta({ description: 'Answered and waiting.' }),
  answered: z.number(),
  waiting: z.number(),
  share: z.number().nullable().meta({ description: 'Answered of those who wanted an answer, 0 to 1.' }),
  median: time,
  ninety: time,
};
const stars = { reviews: z.number(), stars: z.number().nullable() };

/** The numbers of the desk. */
export const deskNumbersEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/desk/numbers',
    name: 'openDeskNumbers',
    says: 'How fast and how often people were answered, by whom, how the stars stand, and what workflows began.',
    may: 'see',
    query: z.object({ weeks: z.coerce.number().int().min(1).max(104).default(12) }),
    answer: z
      .object({
        now: moment,
        from: moment,
        silentAfter: z.number().meta({ description: 'Milliseconds without a word after which nobody is waited for.' }),
        all: z.object(speed),
        weeks: z.array(
          z.object({
            week: z.string().meta({ description: 'The Monday it begins with.' }),
            ...speed,
            ...stars,
            alone: z.number().meta({ description: 'Answered by workflows alone.' }),
            people: z.number(),
            there: z.number().meta({ description: 'Answered at the network itself.' }),
            left: z.number(),
          }),
        ),
        places: z.array(z.object({ outletId: id.nullable(), outlet: z.string(), ...speed, ...stars })),
        byStars: z.array(z.number()).length(5),
        journeys: z.array(
          z.object({
            workflowId: id,
            workflow: z.string(),
            begun: z.number(),
            again: z.number(),
            stopped: z.number(),
            silent: z.number(),
            open: z.number(),
          }),
        ),
      })
      .meta({ id: 'DeskNumbers' }),
    async run({ services: { pool, clock }, brand, query: { weeks } }) {
      const now = clock();
      const [numbers, outlets] = await Promise.all([
        numbersOf(pool, brand.id, { weeks, zone: brand.timeZone, now }),
        outletsOf(pool, brand.id),
      ]);
      const nameOf = (outlet: number | null) => outlets.find((each) => each.id === outlet)?.name ?? 'elsewhere';
      return {
        ...numbers,
        now,
        silentAfter: SILENT_AFTER,
        places: numbers.places.map((place) => ({ ...place, outlet: nameOf(place.outletId) })),
      };
    },
  }),
];
