import { useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { sentence, signIn } from '../api/client';
import { Mark } from '../app/Mark';
import { SESSION } from '../app/session';

export function SignIn() {
  const queries = useQueryClient();
  const [account, setAccount] = useState('');
  const [password, setPassword] = useState('');
  const [refusal, setRefusal] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);

  const enter = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      queries.setQueryData(SESSION, await signIn(account, password));
    } catch (problem) {
      setRefusal(sentence(problem));
      setBusy(false);
    }
  };

  return (
    <main className="sign-in">
      <form onSubmit={enter}>
        <div className="brand">
          <Mark />
          <h1>Elastic Hours</h1>
        </div>
        <p className="quiet">Cycles that close, clips that hand over, time that stretches.</p>
        <div>
          <label className="form-label" htmlFor="account">
            Account
          </label>
          <input
            id="account"
            className="form-control"
            autoComplete="username"
            value={account}
            onChange={(event) => setAccount(event.target.value)}
            required
          />
        </div>
        <div>
          <label className="form-label" htmlFor="password">
            Password
          </label>
          <input
            id="password"
            className="form-control"
            type="password"
            autoComplete="current-password"
            value={password}
            onChange={(event) => setPassword(event.target.value)}
            required
          />
        </div>
        {refusal && (
          <p className="refusal" role="alert">
            {refusal}
          </p>
        )}
        <button type="submit" className="btn btn-lamp" disabled={busy}>
          Sign in
        </button>
      </form>
      <div className="plate" aria-hidden="true">
        <StrandsPlate />
      </div>
    </main>
  );
}

const THREADS = 88;
const WIDTH = 700;

/** Strands: played time above, source time below; the threads gather where time runs slow. */
function StrandsPlate() {
  const threads = Array.from({ length: THREADS + 1 }, (_, k) => {
    const source = k / THREADS;
    const played = source + 0.055 * Math.sin(source * Math.PI * 4) + 0.03 * Math.sin(source * 9);
    return { source: 20 + source * (WIDTH - 40), played: 20 + played * (WIDTH - 40), k };
  });
  return (
    <svg
      className="strands-plate"
      aria-hidden="true"
      viewBox={`0 0 ${WIDTH} 800`}
      preserveAspectRatio="xMidYMid slice"
    >
      <g fill="none" stroke="var(--ink)" strokeWidth="1.1" opacity="0.62">
        {threads.map(({ source, played, k }) => (
          <path
            key={k}
            d={`M${played} 230C${played} 400 ${source} 400 ${source} 570`}
            strokeWidth={k % 8 ? 0.9 : 1.8}
          />
        ))}
      </g>
      <path d={`M0 230H${WIDTH}M0 570H${WIDTH}`} stroke="var(--ink)" strokeWidth="1.6" />
      {threads
        .filter(({ k }) => k % 22 === 11)
        .map(({ source, played, k }) => (
          <g key={k}>
            <path
              d={`M${played} 230C${played} 400 ${source} 400 ${source} 570`}
              fill="none"
              stroke="var(--lamp)"
              strokeWidth="3"
            />
            <circle
              cx={played}
              cy="230"
              r="8"
              fill="var(--lamp)"
              stroke="var(--ink)"
              strokeWidth="2"
            />
            <circle cx={source} cy="570" r="4.5" fill="var(--ink)" />
          </g>
        ))}
    </svg>
  );
}
