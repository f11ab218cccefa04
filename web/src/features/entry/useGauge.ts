import { useRef } from 'react';

/** Nobody types signs this fast, one after another; a gauge does. */
const SIGN_MS = 35;

/** Tells whether what stands in a field was typed by a gauge, so that its Tab means what its Enter does. */
export function useGauge() {
  const typed = useRef({ signs: 0, slow: false, at: 0 });
  return {
    began: () => {
      typed.current = { signs: 0, slow: false, at: 0 };
    },
    sign: (at: number) => {
      const { signs, slow, at: before } = typed.current;
      typed.current = { signs: signs + 1, slow: slow || (signs > 0 && at - before > SIGN_MS), at };
    },
    /** Whether a key at this time still belongs to the gauge. */
    typesStill: (at: number) => {
      const { signs, slow, at: before } = typed.current;
      return signs > 1 && !slow && at - before <= SIGN_MS;
    },
  };
}
