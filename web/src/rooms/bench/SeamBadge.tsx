import type { Clip } from '../../api/clips';

/** The worst measure in its own unit. */
function worstOf(gap: NonNullable<Clip['bench']['seam']>['joints'][number]): string {
  if (gap.worst === 'degrees') return `${gap.gap_degrees.toFixed(1)}°`;
  if (gap.worst === 'cm') return `${gap.gap_cm.toFixed(1)} cm`;
  return `${gap.gap_degrees_per_frame.toFixed(1)}°/frame`;
}

export function SeamBadge({ seam }: { seam: NonNullable<Clip['bench']['seam']> }) {
  const worst = seam.joints[0];
  const text = seam.grade === 'closed' ? 'seam closed' : `seam ${worstOf(worst)}`;
  return (
    <span
      className={`seam-badge is-${seam.grade}`}
      title={`The seam is ${seam.grade}; worst is ${worst.label}`}
    >
      {text}
    </span>
  );
}
