import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import { answered, api } from '../kit/client';
import { Icon } from '../kit/icons';
import { OutboxBar } from './OutboxBar';
import { PRACTISING } from '../kit/place';
import { shopQuery } from '../kit/queries';
import { useSettings } from '../kit/settings';
import styles from './frame.module.css';
import { TableTabs } from './TableTabs';
import { WhoButton } from '../kit/WhoButton';

const ROOMS = [
  { to: '/bench', icon: 'bench', name: 'Bench', key: 'b' },
  { to: '/trials', icon: 'trials', name: 'Trials', key: 't' },
  { to: '/book', icon: 'book', name: 'Book', key: 'k' },
  { to: '/height', icon: 'height', name: 'Height', key: 'h' },
  { to: '/torch', icon: 'torch', name: 'Torch', key: 'o' },
  { to: '/machine', icon: 'machine', name: 'Machine', key: 'm' },
  { to: '/programs', icon: 'programs', name: 'Programs', key: 'p' },
  { to: '/trouble', icon: 'trouble', name: 'Trouble', key: 'u' },
  { to: '/practice', icon: 'practice', name: 'Practice', key: 'a' },
  { to: '/shop', icon: 'shop', name: 'Shop', key: 's' },
] as const;

/** From the practice shop these doors lead back: the exercises and the shop itself are there. */
const OF_THE_SHOP: readonly string[] = ['/practice', '/shop'];

const PracticeBand = lazy(async () => ({
  default: (await import('../practice/PracticeBand')).PracticeBand,
}));

const SHORTCUTS = [
  ...ROOMS.map((r) => [r.key, `Go to the ${r.name}`] as const),
  ['n', 'Open a new trial'],
  ['r', 'Ready to cut: the run-through'],
  ['w', 'Which set? Compare them for a job'],
  ['l', 'Log the cut on the Bench'],
  ['0–9', 'In the log: type a bevel, two digits fill an edge'],
  ['-', 'In the log: turn the sign round'],
  ['Enter, → ↓', 'In the log: next reading'],
  ['← ↑', 'In the log: the reading before'],
  ['Tab', 'In the log: from edge to edge, volts and buttons'],
  ['v', 'In the log: the volts'],
  ['Backspace', 'In the log: erase this reading'],
  ['d h n', 'In the log: dropped, hung on, not through'],
  ['c b', 'In the log: chunks, hard bead, one grade more'],
  ['x s', 'In the log: clean underside, spatter on top'],
  ['Ctrl Enter', 'In the log: save the cut'],
  ['↑ ↓', 'In the live cut: the set-point up or down by 0.5 V, with Shift by 1 V'],
  ['?', 'This list'],
] as const;

/** Inch or metric, remembered for the shop. */
const UNIT_PAIRS = [
  { length_unit: 'mm', speed_unit: 'mm/min' },
  { length_unit: 'mm', speed_unit: 'm/min' },
  { length_unit: 'in', speed_unit: 'in/min' },
  { length_unit: 'thou', speed_unit: 'in/min' },
] as const;

/** The browser's tab says what its page is: its heading, as it stands now. */
function useTitle() {
  useEffect(() => {
    const name = () => {
      const heading = document.querySelector('main h1')?.textContent.trim();
      document.title = heading ? `${heading} · Orthotome` : 'Orthotome';
    };
    const seen = new MutationObserver(name);
    seen.observe(document.body, { childList: true, subtree: true, characterData: true });
    name();
    return () => seen.disconnect();
  }, []);
}

/** A page begins at its top, wherever the one before it was left. */
function useBeginsAtTop() {
  const { pathname } = useLocation();
  const page = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    page.current?.scrollTo(0, 0);
  }, [pathname]);
  return page;
}

export function Shell() {
  const shop = useQuery(shopQuery);
  const { light, setLight } = useSettings();
  const [asked, setAsked] = useState(false);
  const navigate = useNavigate();
  const page = useBeginsAtTop();
  const queries = useQueryClient();
  const change = useMutation({
    mutationFn: (units: (typeof UNIT_PAIRS)[number]) =>
      answered(api.PATCH('/api/shop', { body: units })),
    onSuccess: (changed) => {
      queries.setQueryData(shopQuery.queryKey, changed);
      return queries.invalidateQueries(); // whatever was said is said in the new units
    },
  });
  useEffect(() => {
    const pressed = (e: KeyboardEvent) => {
      const typing =
        e.target instanceof HTMLElement && e.target.closest('input, textarea, select, [role=dialog]');
      if (typing || e.ctrlKey || e.metaKey || e.altKey) return;
      const room = ROOMS.find((r) => r.key === e.key);
      if (room && PRACTISING && OF_THE_SHOP.includes(room.to)) window.location.assign(room.to);
      else if (room) void navigate(room.to);
      else if (e.key === 'n') void navigate('/trials/new');
      else if (e.key === 'r') void navigate('/ready');
      else if (e.key === 'w') void navigate('/choose');
      else if (e.key === '?') setAsked(true);
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, [navigate]);
  useTitle();
  const now = UNIT_PAIRS.findIndex(
    (u) => u.length_unit === shop.data?.length_unit && u.speed_unit === shop.data.speed_unit,
  );
  const next = UNIT_PAIRS[(now + 1) % UNIT_PAIRS.length] ?? UNIT_PAIRS[0];
  return (
    <div className={styles.frame}>
      <nav className={styles.rail} aria-label="Rooms">
        <span className={styles.mark}>
          <Icon name="mark" size={30} />
        </span>
        {ROOMS.map((r) =>
          PRACTISING && OF_THE_SHOP.includes(r.to) ? (
            <a key={r.to} href={r.to}>
              <Icon name={r.icon} />
              {r.name}
            </a>
          ) : (
            <NavLink key={r.to} to={r.to}>
              <Icon name={r.icon} />
              {r.name}
            </NavLink>
          ),
        )}
      </nav>
      <header className={styles.top}>
        <span className={styles.word}>Orthotome</span>
        <TableTabs />
        <span className={styles.keys}>
          <NavLink to="/trials/new">New trial</NavLink>
          <WhoButton />
          <button type="button" onClick={() => change.mutate(next)} title="Change the shop's units">
            {shop.data ? `${shop.data.length_unit} · ${shop.data.speed_unit}` : 'Units'}
          </button>
          <button type="button" onClick={() => setLight(light === 'day' ? 'night' : 'day')}>
            {light === 'day' ? 'Night' : 'Day'}
          </button>
          <button type="button" onClick={() => setAsked(true)} aria-label="Shortcuts">
            ?
          </button>
        </span>
      </header>
      <div className={styles.page} ref={page}>
        {PRACTISING && (
          <Suspense fallback={null}>
            <PracticeBand />
          </Suspense>
        )}
        <OutboxBar />
        <Outlet />
      </div>
      <Dialog open={asked} onClose={() => setAsked(false)} aria-labelledby="shortcuts">
        <DialogTitle id="shortcuts">Keys</DialogTitle>
        <DialogContent>
          <dl className={styles.shortcuts}>
            {SHORTCUTS.map(([key, does]) => (
              <div key={key} style={{ display: 'contents' }}>
                <dt>{key}</dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setAsked(false)}>Close</Button>
        </DialogActions>
      </Dialog>
    </div>
  );
}
