// Drafts of a text model. An answer is asked for in the brand's voice, and what comes back is held against its rules
// before a workflow, or a person, is given it.
import type { ActInput, Outcome } from '@playa/core/model/acts.ts';
import type { Drafted } from '@playa/core/model/drafted.ts';
import { wordRules } from '@playa/core/outlets/length.ts';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { checkDraft } from '@playa/core/voice/check-draft.ts';
import { requestFor, signed, type DraftRequest } from '@playa/core/voice/draft-request.ts';
import type { Handler, Session } from '../connectors/connector.ts';
import type { Queryable } from '../db/database.ts';
import { lastAnswers } from '../store/desk.ts';
import { purposeOfEntry } from '../store/desk-shown.ts';
import { outletBy } from '../store/outlets.ts';
import { brandById, voiceOf } from '../store/users.ts';
import { answersAhead, saidBefore } from '../store/said-before.ts';

/** An answer must not begin like one of so many before it. */
const LAST = 5;
const EARLIER = 6;
/** No answer is longer; a model that goes on and on is cut off. UTF-16 code units. */
const MOST_TEXT = 20_000;

/** Where a draft is asked for. */
export interface TextModel {
  handler: Pick<Handler<'draft'>, 'send'>;
  session: Session;
  /** The network's own id of the model. */
  remoteId: string;
}

/** Has a text model draft something, as often as is wanted. @throws NetworkTrouble */
export async function drafted(
  db: Queryable,
  brandId: number,
  { handler, session, remoteId }: TextModel,
  input: ActInput<'draft'>,
  key: string,
): Promise<Outcome> {
  const request = await requestOf(db, brandId, input);
  const { answers: _answers, again: _again, count = 1, ...plain } = input;
  let first: Outcome | undefined;
  let used = 0;
  const tried: { text: string; faults: string[] }[] = [];
  for (let index = 0; index < count; index++) {
    const { instruction, about, longest } = request ?? input;
    const asked = { ...plain, instruction, about, longest, seed: (input.seed + index) % 2 ** 31 };
    const outcome = await handler.send(session, remoteId, asked, index === 0 ? key : `${key}.${index}`);
    first ??= outcome;
    used += Number(outcome.result?.used ?? 0);
    const text = cutUnits(String(outcome.result?.text ?? ''), MOST_TEXT);
    // The same again is nothing to choose from.
    if (!tried.some((each) => each.text === text)) tried.push({ text, faults: [] });
  }
  if (request) for (const each of tried) Object.assign(each, held(request, each.text));
  const right = tried.filter(({ faults }) => faults.length === 0);
  const [best = tried[0]!, ...others] = right;
  const result: Drafted = {
    text: best.text,
    used,
    ...(others.length > 0 ? { others: others.map(({ text }) => text) } : {}),
    ...(best.faults.length > 0 ? { faults: best.faults } : {}),
  };
  return { ...first!, result: { ...result } };
}

function held(request: DraftRequest, draft: string): { text: string; faults: string[] } {
  const text = signed(draft, request.signOff);
  return { text, faults: checkDraft(text, request.rules).map(({ says }) => says) };
}

/** The request for an answer; null for what is not an answer, which goes as it is. */
async function requestOf(db: Queryable, brandId: number, input: ActInput<'draft'>): Promise<DraftRequest | null> {
  const { answers } = input;
  if (!answers) return null;
  const [brand, voice, outlet, earlier, last, ahead] = await Promise.all([
    brandById(db, brandId),
    voiceOf(db, brandId),
    answers.outlet === null ? undefined : outletBy(db, brandId, answers.outlet),
    answers.person === '' ? [] : saidBefore(db, brandId, answers, answers.id, EARLIER),
    answers.outlet === null ? [] : lastAnswers(db, answers.outlet, LAST),
    answers.outlet === null ? [] : answersAhead(db, brandId, answers.outlet, answers.id, LAST),
  ]);
  const business = brand?.name ?? '';
  return requestFor(
    { ...input, answers },
    {
      voice,
      business,
      place: outlet?.name ?? business,
      limit: outlet ? (wordRules(outlet.kind, purposeOfEntry(answers.kind)).limit ?? null) : null,
      earlier,
      before: [...ahead, ...last],
    },
  );
}
