/**
 * Densities for masses, g/cm³. Metals by EN 1991-1-1 table A.4 (its kN/m³ over 9.81) and EN 1993-1-1; plastics, silicone and woods are
 * what data sheets commonly say: common practice, no source. All from memory.
 */
export interface Material {
  readonly name: string
  readonly density: number
}

export const materials: readonly Material[] = [
  { name: 'PETG', density: 1.27 },
  { name: 'PLA', density: 1.24 },
  { name: 'ABS', density: 1.04 },
  { name: 'ASA', density: 1.07 },
  { name: 'PA 12', density: 1.01 },
  { name: 'TPU', density: 1.21 },
  { name: 'printing resin', density: 1.18 },
  { name: 'silicone', density: 1.1 },
  { name: 'polyurethane', density: 1.05 },
  { name: 'aluminium', density: 2.7 },
  { name: 'brass', density: 8.5 },
  { name: 'bronze', density: 8.7 },
  { name: 'steel', density: 7.85 },
  { name: 'stainless steel', density: 8 },
  { name: 'ash wood', density: 0.7 },
  { name: 'oak wood', density: 0.72 },
  { name: 'spruce wood', density: 0.45 },
]
