/** A slot that a pick on the bench fills: what is in it, or what to click; pressed while it takes the next pick. */
interface Props {
  full: boolean
  active: boolean
  words: string
  figure?: string
  onClick(): void
}

export const SlotButton = ({ full, active, words, figure = '', onClick }: Props) => (
  <button
    type="button"
    className={`slot ${full ? 'full' : ''} ${active ? 'active' : ''}`}
    onClick={onClick}
    aria-pressed={active}
  >
    <span>{words}</span>
    <span className="figure">{figure}</span>
  </button>
)
