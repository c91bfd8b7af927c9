import { useEffect, useState, useSyncExternalStore } from 'react';
import { streamOf, type LiveStream, type Now } from './live';

/** The stream of a table; the component is rendered anew when the state of its line changes. */
export function useStream(tableId: number): LiveStream {
  const stream = streamOf(tableId);
  useSyncExternalStore(stream.subscribe, stream.version);
  return stream;
}

/** The newest sample, some times a second: what is read as numbers. */
export function useNow(stream: LiveStream, timesASecond = 5): Now | null {
  const [now, setNow] = useState<Now | null>(() => stream.rings.now());
  useEffect(() => {
    const timer = window.setInterval(() => setNow(stream.rings.now()), 1000 / timesASecond);
    return () => window.clearInterval(timer);
  }, [stream, timesASecond]);
  return now;
}
