/** The door of a bench that other machines may reach: one field, and why the last try failed. Works without scripts. */
export default async function Page({ searchParams }: { searchParams: Promise<{ wrong?: string; wait?: string }> }) {
  const { wrong, wait } = await searchParams
  const minutes = wait && /^\d{1,6}$/.test(wait) ? Math.ceil(Number(wait) / 60) : null
  return (
    <main className="gb-login">
      <form method="post" action="/api/login" className="gb-login-card">
        <h1>Glue Bench</h1>
        <label className="form-label" htmlFor="phrase">
          Pass phrase
        </label>
        <input
          id="phrase"
          name="phrase"
          type="password"
          className="form-control"
          autoComplete="current-password"
          autoFocus
          required
          maxLength={1000}
          aria-describedby="why"
        />
        <p id="why" role="status" className={wrong !== undefined || minutes ? 'gb-login-wrong' : ''}>
          {minutes
            ? `Too many wrong tries. Try again in ${minutes} ${minutes === 1 ? 'minute' : 'minutes'}.`
            : wrong !== undefined
              ? 'That is not the pass phrase of this bench.'
              : 'It was shown when this bench was started.'}
        </p>
        <button type="submit" className="btn btn-primary">
          Come in
        </button>
      </form>
    </main>
  )
}
