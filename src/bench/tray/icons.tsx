/** One icon for each tool, all of one set and weight. */
import { createElement } from 'react'
import {
  ArrowDownToLine, Axis3d, Blocks, Bandage, Box, Brush, ChevronsLeftRightEllipsis, CircleFadingPlus, CircleSlash2, Combine, Diff, FlipVertical2, Grid3x3, HeartPulse, Layers2, Magnet, Minimize2, PackageOpen, PanelsTopLeft, RulerDimensionLine, Scissors, Shirt, Slice, Spline, Ungroup, CircleDotDashed, CircleDashed, CircleDot, Crosshair, Cylinder, Eraser, Expand, FileInput, FlipHorizontal2, Link2, Minus, Move3d, RotateCw, Ruler, ScanLine, Send, Sparkles, Split, SquareArrowDown, SquaresIntersect, SquaresSubtract, SquaresUnite, Stethoscope, Target, Unlink2, Waves, type LucideIcon, type LucideProps,
} from 'lucide-react'

const icons: Record<string, LucideIcon> = {
  'bring-in/file': FileInput, 'bring-in/practice-scan': ScanLine,
  'set-down/size': Ruler, 'set-down/centre': Crosshair, 'set-down/rest': ArrowDownToLine, 'set-down/face-to-floor': SquareArrowDown, 'set-down/turn': RotateCw, 'set-down/move': Move3d, 'set-down/mirror': FlipHorizontal2, 'set-down/swap-up': Axis3d,
  'mend/check-up': Stethoscope, 'mend/all': Bandage, 'mend/weld': Link2, 'mend/specks': Sparkles, 'mend/face-outward': Expand, 'mend/degenerate': Minus, 'mend/split-non-manifold': Split, 'mend/untangle': Unlink2, 'mend/smooth-folds': Waves, 'mend/close-holes': CircleDashed, 'mend/remove': Eraser,
  'set-down/three-touch': PanelsTopLeft, 'set-down/line-up': Magnet, 'set-down/match': Combine,
  'mend/flip': FlipVertical2, 'mend/smooth': Brush, 'mend/smooth-rim': Spline, 'mend/close-part': CircleSlash2, 'mend/bridge-gap': ChevronsLeftRightEllipsis, 'mend/widen-hole': CircleDotDashed, 'mend/heal': HeartPulse, 'mend/simplify': Minimize2, 'mend/refine': Grid3x3, 'mend/reskin': Shirt, 'mend/take-apart': Ungroup, 'mend/merge': Blocks, 'mend/trim': Scissors, 'mend/split': Slice,
  'build/offset': CircleFadingPlus, 'build/thicken': Layers2, 'build/hollow': PackageOpen, 'prove/deviation': Diff, 'prove/measure': RulerDimensionLine,
  'build/block': Box, 'build/cylinder': Cylinder, 'build/union': SquaresUnite, 'build/difference': SquaresSubtract, 'build/intersection': SquaresIntersect, 'build/edit-hole': Target,
  'send-out/file': Send,
}

export const ToolIcon = ({ kind, ...rest }: { kind: string } & LucideProps) => createElement(icons[kind] ?? CircleDot, { 'aria-hidden': true, ...rest })
