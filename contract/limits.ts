/** What fits. The form shows these, the server holds to them. Lengths of text in characters, times in ms. */
export const LIMITS = {
  title: 160,
  directions: 5_000,
  promptText: 5_000,
  comment: 5_000,
  releaseNote: 300,
  name: 120,
  signInName: 120,
  password: 200,
  items: 200,
  prepareMs: 15 * 60_000,
  answerMs: 30 * 60_000,
  shortestAnswerLimitMs: 1_000,
  takes: 20,
  /** The largest sound that may be uploaded for a prompt. */
  promptBytes: 300 * 1024 * 1024,
  promptMs: 30 * 60_000,
} as const;
