// Forms: what is typed is checked by a schema, said beside its field, and kept when it is refused.
import { revalidateLogic, useForm } from '@tanstack/vue-form';
import type { AnyFormApi } from '@tanstack/vue-form';
import { type Ref } from 'vue';
import type { z } from 'zod';
import { Refused } from './api.ts';
import { useAttempt, type Attempts } from './attempt.ts';

/** A form as its fields and its dialog see it. */
export interface SendForm<Values extends object> extends Attempts {
  /** What its fields are bound to. */
  api: AnyFormApi;
  /** What stands in it now. */
  values: Readonly<Ref<Values>>;
  /** Whether something was typed that has not been sent. */
  changed: Readonly<Ref<boolean>>;
  /** The first thing that is wrong, for forms whose fields are no single ones; empty before it was sent. */
  problem: Readonly<Ref<string>>;
  set: <Name extends keyof Values & string>(name: Name, value: Values[Name]) => void;
  /** Checks it and sends it. What is wrong is said beside its field, and the first such field gets the focus. */
  submit: () => Promise<void>;
  /** Begins anew with other values. */
  reset: (values: Values) => void;
  /** Begins anew with what has been kept; what was typed since it was sent stays, on top of that. */
  settle: (sent: Values, kept: Values) => void;
}

/**
 * A form that is sent to the server. Nothing is said of a field before it was sent once; then at once, as one types.
 *
 * @param schema what may be sent; its messages are shown beside the fields, so they are sentences for people
 * @param values what stands in it to begin with
 * @param send sends what the schema read; a refusal (422) that names fields is said beside them, any other below
 * @param known says of an error whether somebody else deals with it
 * @example
 * const form = useSendForm({
 *   schema: z.object({ name: z.string().trim().min(1, 'Give it a name.') }),
 *   values: { name: '' },
 *   send: ({ name }) => call('makeSheet', { brand }, { body: { name, columns } }),
 * });
 */
export function useSendForm<Values extends object, Read>({
  schema,
  values,
  send,
  known,
}: {
  schema: z.ZodType<Read, Values>;
  values: Values;
  send: (read: Read) => Promise<unknown>;
  known?: (error: unknown) => boolean;
}): SendForm<Values> {
  const attempts = useAttempt();
  const form = useForm({
    defaultValues: values,
    validationLogic: revalidateLogic({ mode: 'submit', modeAfterSubmission: 'change' }),
    validators: { onDynamic: schema },
    async onSubmit({ value }) {
      await attempts.attempt(
        async () => {
          await send(schema.parse(value));
        },
        (error) => known?.(error) === true || saidBeside(error),
      );
    },
    onSubmitInvalid: () => focusFirst(form),
  });
  /** A refusal of the server's that is about single fields. */
  function saidBeside(error: unknown): boolean {
    const issues = error instanceof Refused && error.status === 422 ? error.details.issues : undefined;
    const found = (Array.isArray(issues) ? (issues as { path: string[]; message: string }[]) : []).flatMap(
      ({ path, message }) => {
        const name = path[0] === 'body' ? path[1] : path[0];
        return name !== undefined && name in form.state.values ? [[name, message] as const] : [];
      },
    );
    for (const [name, message] of found)
      form.setFieldMeta(name as never, (meta) => ({ ...meta, errorMap: { ...meta.errorMap, onServer: message } }));
    if (found.length > 0) focusFirst(form);
    return found.length > 0;
  }
  return {
    ...attempts,
    api: form as unknown as AnyFormApi,
    values: form.useSelector((state) => state.values as Values),
    changed: form.useSelector((state) => !state.isDefaultValue),
    problem: form.useSelector((state) => firstOf(state.errors)),
    set: (name, value) => form.setFieldValue(name as never, value as never),
    async submit() {
      if (!attempts.busy.value) await form.handleSubmit();
    },
    reset: (next) => form.reset(next),
    settle(sent, kept) {
      const typed = form.state.values as Values;
      form.reset(kept);
      for (const name of Object.keys(sent) as (keyof Values & string)[])
        if (JSON.stringify(typed[name]) !== JSON.stringify(sent[name]))
          form.setFieldValue(name as never, typed[name] as never);
    },
  };
}

/** The first sentence of what a schema says of a form, by field. */
function firstOf(errors: readonly unknown[]): string {
  for (const each of errors)
    for (const issues of Object.values((each ?? {}) as Record<string, readonly { message: string }[]>))
      if (issues[0]) return issues[0].message;
  return '';
}

/** The first field of which something is wrong. */
function focusFirst(form: { formId: string }): void {
  requestAnimationFrame(() =>
    document.querySelector<HTMLElement>(`[data-form="${CSS.escape(form.formId)}"][aria-invalid="true"]`)?.focus(),
  );
}
