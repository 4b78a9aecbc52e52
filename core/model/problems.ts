/** Something worth a look. Harm must be settled before going live; advice need not. */
export interface Problem {
  level: 'harm' | 'advice';
  /** The step or source it belongs to; null for the whole workflow. */
  step: string | null;
  says: string;
}
