import { z } from 'zod'
import { plural, volumeText } from '@/core/base/say'
import { isMesh, meshBody } from '@/core/bodies/body'
import { requireClosed } from '@/core/join/boolean'
import { deleteRegion, facesAt } from '@/core/join/delete-region'
import { meshVolume } from '@/core/mesh/measures'
import { deleteFaces } from '@/core/kernels/exact/faces'
import { bodyRef, faceRefs } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { changed, featureBody } from './features'

export const deleteFace = defineStep({
  kind: 'build/delete-face',
  version: 2,
  title: 'Delete face',
  order: 78,
  past: 'Deleted faces of',
  group: 'Edges and holes',
  facts: shown('volume', 'volumeChange', 'faces'),
  summary:
    'Takes a hole, a pocket or a boss out of a solid or mesh: its picked faces go, the faces round it close over.',
  settings: z.object({
    body: bodyRef(['solid', 'mesh'], 'Body'),
    faces: faceRefs('Faces'),
  }),
  async run({ settings: s, body, work }) {
    const b = body(s.body)
    if (isMesh(b) && s.faces !== 'all') {
      const { flags, curved } = facesAt(
        b.mesh,
        s.faces.map((f) => f.at),
      )
      // Round walls stay a mesh; what is flat all round becomes a solid of flat faces.
      if (curved) {
        requireClosed(s.body, b.mesh)
        const done = deleteRegion(s.body, b.mesh, flags, work)
        const by = done.volumeChange
        return {
          bodies: { [s.body]: meshBody(done.mesh) },
          facts: { volume: meshVolume(done.mesh), volumeChange: by, removed: done.removed, closed: done.closed },
          said: `${plural(done.closed, 'rim')} healed over on the mesh · ${by < 0 ? '−' : '+'} ${volumeText(Math.abs(by))}`,
        }
      }
    }
    const on = await featureBody(s.body, body(s.body), work)
    const faces = on.faces(s.faces)
    const done = await deleteFaces(on.exact, faces)
    return changed(s.body, on, done, `${plural(faces.length, 'face')} healed over`)
  },
})
