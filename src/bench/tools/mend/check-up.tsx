import { Stethoscope } from 'lucide-react'
import { useBench } from '@/bench/state/store'
import { defineTool } from '../tool'

export const checkUpTool = defineTool({
  kind: 'mend/check-up',
  icon: Stethoscope,
  // The list of faults opens with the tool, and stays when it is put away.
  start({ bodies, selected }) {
    const fit = bodies.filter((b) => b.facts?.can.includes('check'))
    const body = fit.find((b) => b.name === selected) ?? fit[0]
    if (body) useBench.getState().set({ checkUpOf: body.name, fault: null })
    return false
  },
})
