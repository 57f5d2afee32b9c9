import { Box, Flex } from '@chakra-ui/react';
import { useEffect, useState, type ComponentProps } from 'react';
import { Aside, Field } from '../frame/controls.tsx';

type Rules = typeof import('#contract/password');
const WORDS = ['very weak', 'weak', 'easily guessed', 'good', 'very good'];

/** A new password, with how well it holds told while it is typed, by the rules that the server refuses by. */
export function NewPassword({
  value,
  onValue,
  owner,
  ...rest
}: {
  value: string;
  onValue: (value: string) => void;
  owner: { email: string; name: string };
} & Omit<ComponentProps<typeof Field>, 'value' | 'onChange' | 'type'>) {
  const rules = useRules(value !== '');
  const short = value.length < 12;
  const strength = rules && value ? rules.passwordStrength(value, owner) : null;
  const problem = rules && value && !short ? rules.passwordProblem(value, owner) : null;
  const holds = strength !== null && !short && !problem;
  const said = strength === null ? '' : short ? `${value.length} of 12 characters` : holds ? WORDS[strength] : (problem ?? ''); // prettier-ignore
  return (
    <Box flex="1">
      <Field
        type="password"
        autoComplete="new-password"
        required
        minLength={12}
        maxLength={400}
        width="100%"
        {...rest}
        value={value}
        onChange={(e) => onValue(e.target.value)}
      />
      <Flex align="center" gap="8px" minHeight="20px" mt="2px" aria-live="polite">
        {strength === null ? null : (
          <Flex gap="3px" aria-hidden="true" flexShrink="0">
            {[1, 2, 3, 4].map((n) => (
              <Box
                key={n}
                width="18px"
                height="5px"
                borderRadius="2px"
                bg={!short && strength >= n ? (holds ? 'pine' : 'brass') : 'rule'}
              />
            ))}
          </Flex>
        )}
        <Aside>{said}</Aside>
      </Flex>
    </Box>
  );
}

/** The list of common passwords is large: it comes when somebody begins to type. */
function useRules(wanted: boolean): Rules | null {
  const [rules, setRules] = useState<Rules | null>(null);
  useEffect(() => {
    if (wanted && !rules) void import('#contract/password').then((m) => setRules(() => m));
  }, [wanted, rules]);
  return rules;
}
