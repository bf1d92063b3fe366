/** Stages with more tools than fit group them by need; the tray shows one group at a time. */
export const trayGroups: Record<string, { name: string; kinds: string[] }[]> = {
  mend: [
    {
      name: 'First',
      kinds: [
        'mend/check-up',
        'mend/all',
        'mend/reskin',
        'mend/simplify',
        'mend/smooth',
        'mend/close-holes',
        'mend/heal',
      ],
    },
    {
      name: 'Skin',
      kinds: [
        'mend/weld',
        'mend/specks',
        'mend/face-outward',
        'mend/flip',
        'mend/degenerate',
        'mend/split-non-manifold',
        'mend/untangle',
        'mend/remove',
      ],
    },
    {
      name: 'Holes',
      kinds: [
        'mend/close-holes',
        'mend/close-part',
        'mend/bridge-gap',
        'mend/widen-hole',
        'mend/smooth-rim',
        'mend/heal',
      ],
    },
    { name: 'Shape', kinds: ['mend/smooth', 'mend/smooth-folds', 'mend/simplify', 'mend/refine', 'mend/reskin'] },
    { name: 'Cut', kinds: ['mend/trim', 'mend/split', 'mend/take-apart', 'mend/merge'] },
  ],
  'set-down': [
    {
      name: 'Place',
      kinds: [
        'set-down/size',
        'set-down/centre',
        'set-down/rest',
        'set-down/face-to-floor',
        'set-down/turn',
        'set-down/move',
        'set-down/mirror',
        'set-down/swap-up',
      ],
    },
    { name: 'By touch', kinds: ['set-down/three-touch', 'set-down/line-up', 'set-down/match'] },
  ],
  build: [
    {
      name: 'Exact',
      kinds: [
        'build/block',
        'build/cylinder',
        'build/union',
        'build/difference',
        'build/intersection',
        'build/edit-hole',
      ],
    },
    { name: 'Walls', kinds: ['build/offset', 'build/thicken', 'build/hollow'] },
  ],
}
