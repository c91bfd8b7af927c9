import Button from '@mui/material/Button';
import { useEffect, useRef, useState } from 'react';
import { minutes } from './clock';
import styles from './programs.module.css';

interface Props {
  /** How long a run takes, in seconds. */
  whole: number;
  /** Where it is; null where nothing is played. */
  seconds: number | null;
  onSeconds: (seconds: number | null) => void;
}

const PACES = [1, 10, 60] as const;

/** The run played: as it goes, ten or sixty times as fast, or drawn along by hand. */
export function Play({ whole, seconds, onSeconds }: Props) {
  const [playing, setPlaying] = useState(false);
  const [pace, setPace] = useState<(typeof PACES)[number]>(10);
  const at = useRef(0);
  useEffect(() => {
    at.current = seconds ?? 0;
  }, [seconds]);
  useEffect(() => {
    if (!playing) return;
    let before = performance.now();
    let frame = requestAnimationFrame(function on(now) {
      const next = Math.min(whole, at.current + (pace * (now - before)) / 1000);
      before = now;
      at.current = next;
      onSeconds(next);
      if (next >= whole) setPlaying(false);
      else frame = requestAnimationFrame(on);
    });
    return () => cancelAnimationFrame(frame);
  }, [playing, pace, whole, onSeconds]);
  return (
    <div className={styles.play}>
      <Button
        variant="outlined"
        onClick={() => {
          if (!playing && (seconds === null || seconds >= whole)) onSeconds(0);
          setPlaying(!playing);
        }}
      >
        {playing ? 'Hold' : 'Play the run'}
      </Button>
      <input
        type="range"
        min={0}
        max={Math.ceil(whole)}
        step={0.1}
        value={seconds ?? 0}
        aria-label="Time of the run"
        aria-valuetext={`${minutes(seconds ?? 0)} of ${minutes(whole)}`}
        onChange={(e) => {
          setPlaying(false);
          onSeconds(Number(e.target.value));
        }}
      />
      <span className="number">
        {minutes(seconds ?? 0)} of {minutes(whole)}
      </span>
      <button
        type="button"
        aria-label={`Pace: ${pace} times as fast`}
        onClick={() => setPace(PACES[(PACES.indexOf(pace) + 1) % PACES.length] ?? 1)}
      >
        ×{pace}
      </button>
      {seconds !== null && (
        <button
          type="button"
          onClick={() => {
            setPlaying(false);
            onSeconds(null);
          }}
        >
          Put away
        </button>
      )}
    </div>
  );
}
