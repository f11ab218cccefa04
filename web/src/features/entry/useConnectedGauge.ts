import { useEffect, useRef } from 'react';
import { answered, api } from '../../api/client';
import { onOffer } from '../../api/live';

/**
 * Takes values that a gauge at the station offers, one after another, while `wants` says that there is room for one.
 * Of several screens the first that asks has it; a screen that nobody looks at does not ask.
 */
export function useConnectedGauge(
  station: string,
  characteristic: string,
  wants: () => boolean,
  fill: (value: string) => void,
) {
  const now = useRef({ wants, fill });
  useEffect(() => {
    now.current = { wants, fill };
  });
  useEffect(() => {
    let before = Promise.resolve();
    return onOffer((offer) => {
      if (offer.station !== station) return;
      before = before.then(async () => {
        if (document.visibilityState !== 'visible' || !now.current.wants()) return;
        const path = { id: offer.offer };
        // What somebody else took, or what is no reading of this, is nothing to speak of here.
        const taken = await answered(
          api.POST('/api/offers/{id}/taking', { params: { path }, body: { characteristic } }),
        ).catch(() => null);
        // The server has seen that its unit is right; the field has it beside it.
        if (taken) now.current.fill(/^[-+−\d.,]+/.exec(taken.value)?.[0] ?? taken.value);
      });
    });
  }, [station, characteristic]);
}
