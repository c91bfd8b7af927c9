/** Where this screen stands: in the shop, or in the practice shop, which has the same rooms under an address of its own. */
const ON_PRACTICE = '/on-practice';

// Rules are tested without a browser, too: there is no place there.
const path = typeof window === 'undefined' ? '' : window.location.pathname;

export const PRACTISING = path.startsWith(`${ON_PRACTICE}/`);

/** What comes before every address of these rooms. */
export const BASE = PRACTISING ? ON_PRACTICE : '';

/** An address of the server that is no request of the client: a file to save, a picture, a stream. */
export const at = (address: string): string => `${BASE}${address}`;

/** What this device keeps of its own accord is kept apart: a practice table's half-typed log is no real one's. */
export const ownKey = (key: string): string => (PRACTISING ? `practice ${key}` : key);
