// Passwords of twelve characters or more are rarely on the lists of common ones; those that are, and what is made like
// them, are refused (OWASP ASVS 4.0.3, 2.1.1 and 2.1.7). The list is from memory.

const COMMON = new Set(
  'passwordpassword password12345 password123456 password1234 123456789012 1234567890123 12345678901234 qwertyuiop123 qwertyuiopasdf qwertyuiop[] qwertyuiop12 1qaz2wsx3edc 1q2w3e4r5t6y 1q2w3e4r5t6y7u zaq12wsxcde3 iloveyou1234 iloveyouforever letmein12345 administrator administrator1 adminadmin123 welcome12345 welcome123456 changeme1234 changemechangeme trustno1trustno1 footballfootball monkeymonkey sunshine1234 princess1234 superman1234 michael12345 dragondragon masterpassword abcdefghijkl abcd12345678 a1b2c3d4e5f6 aaaaaaaaaaaa 111111111111 000000000000 121212121212 qazwsxedcrfv asdfghjklzxcvbnm asdfasdfasdf zxcvbnm12345 thisisapassword mypassword123 passw0rd1234 p@ssw0rd1234 correcthorsebatterystaple secretsecret topsecret123 surveysurvey dunrikdunrik'.split(
    ' ',
  ),
);

/** Why a password is not taken, as a sentence; null where it is. */
export function passwordProblem(password: string, person: { email: string; name: string }): string | null {
  const plain = password.toLowerCase().replace(/\s+/g, '');
  if (COMMON.has(plain))
    return 'This password is on the lists that are tried first. Choose another; several words do well.';
  if (new Set(plain).size < 5) return 'This password repeats a few characters. Choose another; several words do well.';
  const own = [person.email.split('@')[0], ...person.name.split(/\s+/)].map((w) => w.toLowerCase()).filter((w) => w.length >= 4); // prettier-ignore
  const rest = own.reduce((text, word) => text.split(word).join(''), plain);
  if (rest.length < 6) return 'This password is little more than your own name. Choose another; several words do well.';
  return null;
}
