/** Stands in for the canvas library where no canvas is drawn: unit tests of hands and lists reach it only by import. */
const none = (): never => {
  throw new Error('there is no canvas in a unit test')
}
export const useFrame = none
export const useThree = none
export const Canvas = none
