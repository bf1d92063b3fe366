import { describe, expect, it } from '@jest/globals'
import { limitSkin } from '@/core/kinds/cage'
import { quadBlock } from '@/testing/quad-shapes'
import { applyEdit } from './edit/apply'
import { cageOfNet } from './cage-of-net'
import { FineSurface } from './fine-surface'
import { cageBlock } from './shapes'

const block = cageOfNet(quadBlock([20, 20, 20], [0, 0, 0], 2), null)

describe('the surface that follows a hand', () => {
  it('lies where the limit skin of the kind lies, before and after a pull', () => {
    const fine = new FineSurface(block)
    const pulled = applyEdit(block, { do: 'move', points: [[20, 20, 20]], by: [5, 3, 1] }, null)
    for (const cage of [block, pulled]) {
      const { skin } = fine.at(cage.positions)
      const whole = limitSkin(cage).mesh.positions
      expect(skin.length).toBe(whole.length)
      for (let i = 0; i < skin.length; i++) expect(skin[i]).toBeCloseTo(whole[i], 4)
    }
  })
  it('has unit normals that look outward', () => {
    const { skin, normals } = new FineSurface(block).at(block.positions)
    for (let o = 0; o < skin.length; o += 3) {
      const n = [normals[o], normals[o + 1], normals[o + 2]]
      expect(Math.hypot(...n)).toBeCloseTo(1, 5)
      expect(n.reduce((s, x, k) => s + x * (skin[o + k] - 10), 0)).toBeGreaterThan(0)
    }
  })
  it('has places of its own on either side of a sharp edge, each with the normal of its side', () => {
    const sharp = cageBlock([20, 20, 20], [2, 2, 2], true)
    const { skin, normals } = new FineSurface(sharp).at(sharp.positions)
    for (let o = 0; o < skin.length; o += 3)
      expect(Math.max(...[0, 1, 2].map((k) => Math.abs(normals[o + k])))).toBeCloseTo(1, 5)
  })
  it('serves whatever has the same faces: each move of an extrusion, not another one', () => {
    const up = (d: number) => applyEdit(block, { do: 'extrude', faces: [[5, 5, 20]], distance: d }, null)
    const fine = new FineSurface(up(1))
    expect(fine.serves(up(2))).toBe(true)
    expect(fine.serves(block)).toBe(false)
    expect(fine.serves(applyEdit(up(1), { do: 'sharpen', faces: [[5, 5, 21]], sharpness: 1 }, null))).toBe(false)
  })
})
