/** The product's mark: a clock whose hand is a stretched elastic loop. */
export function Mark() {
  return (
    <svg
      className="emblem"
      viewBox="0 0 28 28"
      fill="none"
      strokeLinecap="round"
      aria-hidden="true"
    >
      <circle cx="14" cy="14" r="11.6" stroke="var(--ink)" strokeWidth="1.7" fill="var(--card)" />
      <path
        d="M14 4.6v1.9M23.4 14h-1.9M14 23.4v-1.9M4.6 14h1.9"
        stroke="var(--ink)"
        strokeWidth="1.4"
      />
      <path
        d="M14 14C11.2 17.6 8.6 16.4 10 13.8 11.6 10.8 17.8 9.4 22.2 6.2 24.4 4.7 25.4 6.8 23.4 8.2 18.8 11.2 17.2 11 14 14Z"
        stroke="#A8650C"
        strokeWidth="1.9"
      />
      <circle cx="14" cy="14" r="1.7" fill="var(--ink)" />
    </svg>
  );
}
