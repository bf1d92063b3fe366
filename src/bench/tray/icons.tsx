/** One icon for each tool, all of one set and weight. */
import { createElement } from 'react'
import {
  ArrowDownToLine, Axis3d, Bandage, Box, CircleDashed, CircleDot, Crosshair, Cylinder, Eraser, Expand, FileInput, FlipHorizontal2, Link2, Minus, Move3d, RotateCw, Ruler, ScanLine, Send, Sparkles, Split, SquareArrowDown, SquaresIntersect, SquaresSubtract, SquaresUnite, Stethoscope, Target, Unlink2, Waves, type LucideIcon, type LucideProps,
} from 'lucide-react'

const icons: Record<string, LucideIcon> = {
  'bring-in/file': FileInput, 'bring-in/practice-scan': ScanLine,
  'set-down/size': Ruler, 'set-down/centre': Crosshair, 'set-down/rest': ArrowDownToLine, 'set-down/face-to-floor': SquareArrowDown, 'set-down/turn': RotateCw, 'set-down/move': Move3d, 'set-down/mirror': FlipHorizontal2, 'set-down/swap-up': Axis3d,
  'mend/check-up': Stethoscope, 'mend/all': Bandage, 'mend/weld': Link2, 'mend/specks': Sparkles, 'mend/face-outward': Expand, 'mend/degenerate': Minus, 'mend/split-non-manifold': Split, 'mend/untangle': Unlink2, 'mend/smooth-folds': Waves, 'mend/close-holes': CircleDashed, 'mend/remove': Eraser,
  'build/block': Box, 'build/cylinder': Cylinder, 'build/union': SquaresUnite, 'build/difference': SquaresSubtract, 'build/intersection': SquaresIntersect, 'build/edit-hole': Target,
  'send-out/file': Send,
}

export const ToolIcon = ({ kind, ...rest }: { kind: string } & LucideProps) => createElement(icons[kind] ?? CircleDot, { 'aria-hidden': true, ...rest })
