/** What a schema says of a value that does not hold. */
interface Issue {
  code?: string;
  message: string;
  origin?: string;
  minimum?: number | bigint;
  maximum?: number | bigint;
  expected?: string;
  values?: readonly unknown[];
}

/** How the words begin that a schema has by itself; every other sentence was written for people. */
const BY_ITSELF = /^(Too (small|big)|Invalid|Unrecognized|Expected)\b/;
const KIND: Record<string, string> = {
  string: 'text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'yes or no',
  array: 'a list',
  object: 'a record',
};

/** What is wrong with a value, in plain words: schemas' own sentences as they are, those that they make by themselves put into English. */
export function issueText(issue: Issue): string {
  if (!BY_ITSELF.test(issue.message)) return issue.message;
  const { code, origin, minimum, maximum, expected, values } = issue;
  if (code === 'too_small') return lessText(origin, Number(minimum));
  if (code === 'too_big') return moreText(origin, Number(maximum));
  if (code === 'invalid_value' && values) return `one of ${values.map(String).join(', ')} is expected`;
  if (code === 'invalid_type' && expected)
    return issue.message.endsWith('undefined') ? 'it is missing' : `${KIND[expected] ?? expected} is expected`;
  return 'it is not what is expected here';
}

function lessText(origin: string | undefined, least: number): string {
  if (origin === 'string') return least === 1 ? 'it is empty' : `it has fewer than ${least} characters`;
  if (origin === 'array' || origin === 'set') return least === 1 ? 'the list is empty' : `the list has fewer than ${least} entries`; // prettier-ignore
  return `it is less than ${least}`;
}

function moreText(origin: string | undefined, most: number): string {
  if (origin === 'string') return `it is longer than ${most} ${most === 1 ? 'character' : 'characters'}`;
  if (origin === 'array' || origin === 'set') return `the list has more than ${most} entries`;
  return `it is more than ${most}`;
}
