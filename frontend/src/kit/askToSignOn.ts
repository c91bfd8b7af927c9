const ASKED = 'orthotome sign on';

/** Asks whoever stands here to sign on; called where the server refused for want of a name. */
export const askToSignOn = (): boolean => window.dispatchEvent(new Event(ASKED));

export function whenAskedToSignOn(open: () => void): () => void {
  window.addEventListener(ASKED, open);
  return () => window.removeEventListener(ASKED, open);
}
