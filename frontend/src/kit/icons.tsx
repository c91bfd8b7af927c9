/** The few line icons of the interface, drawn for it. */
const PATHS = {
  bench: 'M3 9h18M5 9v11M19 9v11M12 3v6',
  trials: 'M4 20V6M9 20V10M14 20V8M19 20V12',
  book: 'M5 4h14v16H5zM9 4v16M12 8h4M12 12h4',
  height: 'M12 3v9M8 3h8M9 12h6l-1.5 3h-3zM4 20h16M19 6v8M17 12l2 2 2-2',
  torch: 'M9 3h6v7l-2 3.5h-2L9 10zM12 13.5V17M8 21l4-4 4 4',
  machine: 'M3 19h18M5 19V7M19 19V7M3 9h18M11 9v6h4V9',
  shop: 'M3 20V9l9-5 9 5v11M3 20h18M9 20v-6h6v6',
  programs: 'M4 5h11v4H9v6h6v4H4M18 9v10M15.5 16.5L18 19l2.5-2.5',
  trouble: 'M12 20v-7M12 13L5 6M12 13l7-7M5 10V6h4M19 10V6h-4',
  practice: 'M3 8l9-4 9 4-9 4zM7 10.5V16c3 2 7 2 10 0v-5.5M21 8v6',
  mark: 'M3 5h6.4v15M21 5h-6.4v15M9.4 15.5H5M14.6 15.5H19',
  back: 'M15 5l-7 7 7 7',
  close: 'M6 6l12 12M18 6L6 18',
  play: 'M7 4.5v15l12-7.5z',
  pause: 'M7.5 5v14M16.5 5v14',
  erase: 'M9 6h11v12H9l-6-6zM12 10l4 4M16 10l-4 4',
} as const;

export function Icon({ name, size = 24 }: { name: keyof typeof PATHS; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 24 24"
      fill="none"
      stroke="currentColor"
      strokeWidth={name === 'mark' ? 2 : 1.7}
      aria-hidden="true"
    >
      <path d={PATHS[name]} />
    </svg>
  );
}
