import styles from './kit.module.css';

interface Props {
  label: string;
  value: string;
  most: number;
  lines?: number;
  placeholder?: string;
  onType: (value: string) => void;
}

/** A few words, or some lines, in glove size. */
export function TextField({ label, value, most, lines, placeholder, onType }: Props) {
  return (
    <label className={styles.textField}>
      {label}
      {lines ? (
        <textarea
          value={value}
          maxLength={most}
          rows={lines}
          placeholder={placeholder}
          onChange={(e) => onType(e.target.value)}
        />
      ) : (
        <input
          value={value}
          maxLength={most}
          placeholder={placeholder}
          onChange={(e) => onType(e.target.value)}
        />
      )}
    </label>
  );
}
