/** A question over the page: a name to type, whether something is meant, or one of some for each of a few. */
import { useState } from 'react'
import { Form, Modal } from 'react-bootstrap'
import { Button } from '@/bench/forms/button'
import { useBench, type Question } from '@/bench/state/store'

export function QuestionDialog() {
  const question = useBench((s) => s.question)
  return question ? <Asked key={question.title} question={question} /> : null
}

function Asked({ question: q }: { question: Question }) {
  const set = useBench((s) => s.set)
  const [value, setValue] = useState(q.ask === 'name' ? q.value : '')
  const [chosen, setChosen] = useState(q.ask === 'choices' ? q.rows.map((r) => r.value) : [])
  const close = () => set({ question: null })
  const yes = () => {
    close()
    if (q.ask === 'name') q.done(value)
    else if (q.ask === 'choices') q.done(chosen)
    else q.done()
  }
  return (
    <Modal show onHide={close} centered animation={false} keyboard={false} aria-labelledby="question-title">
      <Form
        onSubmit={(e) => {
          e.preventDefault()
          yes()
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title as="h2" className="h6" id="question-title">
            {q.title}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          {q.ask === 'name' ? (
            <Form.Group controlId="question-name">
              <Form.Label>{q.label}</Form.Label>
              <Form.Control
                autoFocus
                autoComplete="off"
                maxLength={120}
                value={value}
                onChange={(e) => setValue(e.target.value)}
                onFocus={(e) => e.target.select()}
              />
            </Form.Group>
          ) : (
            <p className={q.ask === 'choices' ? '' : 'm-0'}>{q.text}</p>
          )}
          {q.ask === 'choices' &&
            q.rows.map((r, i) => (
              <Form.Group key={r.label} className="mb-2" controlId={`question-${i}`}>
                <Form.Label>{r.label}</Form.Label>
                <Form.Select
                  value={chosen[i]}
                  onChange={(e) => setChosen(chosen.map((c, k) => (k === i ? e.target.value : c)))}
                >
                  {r.options.map((o) => (
                    <option key={o}>{o}</option>
                  ))}
                </Form.Select>
              </Form.Group>
            ))}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="quiet" onClick={close}>
            Cancel
          </Button>
          <Button type="submit" autoFocus={q.ask === 'sure'}>
            {q.ask === 'name' ? 'Rename' : q.yes}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
