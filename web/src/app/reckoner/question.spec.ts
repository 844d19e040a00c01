import { addressOf, dropQuestion, keepQuestion, keptQuestion, linkTo, readQuestion } from './question.ts';

const QUESTION = { readings: [{ second: 0, volt: 210.5 }], note: 'ä & ?' };

describe('a question to the Reckoner', () => {
  it('travels whole in a link', () => {
    const address = addressOf('isolate.fitDecay', QUESTION, 'http://127.0.0.1');
    expect(readQuestion(new URL(address ?? '').searchParams.get('in'))).toEqual(QUESTION);
    expect(readQuestion(linkTo('isolate.fitDecay', QUESTION).queryParams.in)).toEqual(QUESTION);
  });

  it('has no link where it is too long for one, and still opens its calculation', () => {
    const long = { pool: Array.from({ length: 2000 }, (_, i) => i) };
    expect(addressOf('match.select', long, '')).toBeNull();
    expect(linkTo('match.select', long)).toEqual({ commands: ['/reckoner', 'match.select'], queryParams: {} });
  });

  it('is kept on the device, by calculation, until it is dropped', () => {
    keepQuestion('a', QUESTION);
    expect(keptQuestion('a')).toEqual(QUESTION);
    expect(keptQuestion('b')).toBeUndefined();
    dropQuestion('a');
    expect(keptQuestion('a')).toBeUndefined();
  });

  it('that cannot be read is no question', () => {
    expect(readQuestion('{"half":')).toBeUndefined();
    expect(readQuestion('')).toBeUndefined();
    expect(readQuestion(null)).toBeUndefined();
  });
});
