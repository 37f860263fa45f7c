/** What the bench of words needs of core and server. */
export { randomFrom } from '@ecoute/core/testing/sounds';
export { cepstraOf } from '@ecoute/core/words/cepstra';
export { textHeard } from '@ecoute/core/words/textHeard';
export { writtenTokens } from '@ecoute/core/words/writtenWords';
export { referenceOf } from '../server/capabilities/measures/referenceVoice';
export { suggestionsOf } from '@ecoute/core/feedback/suggestions';
