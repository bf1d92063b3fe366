/** The small marks of constraints: one drawn glyph each on a field of 12 by 12. */
import type { ConstraintKind } from '@/core/outline/constraint'

const paths: Record<ConstraintKind, string> = {
  horizontal: 'M1 6H11',
  vertical: 'M6 1V11',
  parallel: 'M2.5 10.5L6 1.5M6 10.5L9.5 1.5',
  perpendicular: 'M1.5 10H10.5M6 10V2',
  tangent: 'M1 10H11M6 10A3.6 3.6 0 1 1 6.01 10',
  equal: 'M2 4.4H10M2 7.6H10',
  concentric: 'M6 1.5A4.5 4.5 0 1 1 5.99 1.5M6 4.2A1.8 1.8 0 1 1 5.99 4.2',
  collinear: 'M1 11L4.2 7.8M5 7L7 5M7.8 4.2L11 1',
  symmetric: 'M6 1V11M4 3L1 6L4 9M8 3L11 6L8 9',
  fixed: 'M3 5.5H9V10.5H3ZM4.2 5.5V3.4A1.8 1.8 0 0 1 7.8 3.4V5.5',
  coincident: 'M6 3.4A2.6 2.6 0 1 1 5.99 3.4M1 1L4 4M11 11L8 8',
  onCurve: 'M1 10C4 3 8 3 11 10M6 2.8A1.9 1.9 0 1 1 5.99 2.8',
  midpoint: 'M1 10H11M6 8L3.4 3H8.6Z',
}

export function Sign({ kind, size = 12 }: { kind: ConstraintKind; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 12 12" aria-hidden className="sign-glyph">
      <path d={paths[kind]} />
    </svg>
  )
}
