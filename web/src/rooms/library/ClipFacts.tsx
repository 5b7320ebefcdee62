import type { Schemas } from '../../api/client';

type Clip = Schemas['ClipCard'];

const GRADES = { closed: 'good', soft: 'warn', open: 'bad' } as const;

/** How a cycle closes, or that a clip plays once. */
export function SeamStamp({ clip }: { clip: Clip }) {
  if (!clip.seam) return <span className="stamp plain">plays once</span>;
  const { grade, joint, gap_degrees, gap_cm, gap_degrees_per_frame } = clip.seam;
  const worst = `Worst joint ${joint}: ${gap_degrees.toFixed(1)}°, ${gap_cm.toFixed(1)} cm, ${gap_degrees_per_frame.toFixed(1)}° a frame`;
  return (
    <span className={`stamp ${GRADES[grade]}`} title={worst}>
      seam {grade}
    </span>
  );
}

export function lengthOf(clip: Clip): string {
  return `${clip.length_frames} fr${clip.is_cycle ? ' cycle' : ''}`;
}

/** A clip's colour as a pencil stroke. */
export function PencilMark({ colour }: { colour: Clip['colour'] }) {
  return (
    <svg className="pencil-mark" viewBox="0 0 11 11" aria-hidden="true">
      <path
        d="M1 6.4C2.2 7.2 3 8.4 3.6 9.8 5 6 7 3.2 10 1"
        fill="none"
        stroke={`var(--${colour})`}
        strokeWidth="2"
        strokeLinecap="round"
      />
    </svg>
  );
}
