import { COLOURS } from '../app/ColourChoice';

/** Pencil shading for clips, and the hatch that means “right foot”. */
export function DeskPatterns() {
  return (
    <defs>
      <pattern
        id="hatch-right"
        width="4"
        height="4"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(28)"
      >
        <rect width="4" height="4" fill="var(--sheet)" />
        <rect width="2" height="4" fill="var(--after)" />
      </pattern>
      <pattern
        id="gap-hold"
        width="9"
        height="9"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(-58)"
      >
        <path d="M0 4.5H9" stroke="var(--rule-strong)" strokeDasharray="3 3" />
      </pattern>
      {COLOURS.map((colour) => (
        <pattern
          key={colour}
          id={`pencil-${colour}`}
          width="23"
          height="17"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(-58)"
        >
          <rect width="23" height="17" fill={`var(--${colour})`} fillOpacity="0.2" />
          <g stroke={`var(--${colour})`} strokeLinecap="round" fill="none">
            <path d="M-1 1.6C7 .9 15 2.2 24 1.4" strokeWidth="1.1" strokeOpacity="0.34" />
            <path d="M-1 4.9C8 5.6 14 4.4 24 5.1" strokeWidth="0.8" strokeOpacity="0.26" />
            <path d="M-1 8.3C6 7.6 16 8.9 24 8.2" strokeWidth="1.3" strokeOpacity="0.3" />
            <path d="M-1 11.8C9 12.5 15 11.2 24 11.9" strokeWidth="0.7" strokeOpacity="0.3" />
            <path d="M-1 15.2C7 14.5 17 15.9 24 15.1" strokeWidth="1.1" strokeOpacity="0.26" />
          </g>
        </pattern>
      ))}
    </defs>
  );
}
