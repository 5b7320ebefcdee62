import { useQuery } from '@tanstack/react-query';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { readSession, sentence } from '../api/client';
import { BenchRoom } from '../rooms/bench/BenchRoom';
import { CutOutRoom } from '../rooms/cutout/CutOutRoom';
import { DrawingsRoom } from '../rooms/drawings/DrawingsRoom';
import { LibraryRoom } from '../rooms/library/LibraryRoom';
import { ProductionsPage } from '../rooms/library/ProductionsPage';
import { PrintsRoom } from '../rooms/prints/PrintsRoom';
import { SignIn } from '../rooms/SignIn';
import { SceneRoom } from '../rooms/scene/SceneRoom';
import { TakesRoom } from '../rooms/takes/TakesRoom';
import { VoiceRoom } from '../rooms/voice/VoiceRoom';
import { SignInAgain } from './SignInAgain';
import { SESSION } from './session';

export function App() {
  const session = useQuery({ queryKey: SESSION, queryFn: readSession });
  if (session.isPending) return null;
  if (session.isError) {
    return (
      <div className="p-5">
        <p className="refusal mb-3">{sentence(session.error)}</p>
        <button type="button" className="btn btn-paper" onClick={() => session.refetch()}>
          Try again
        </button>
      </div>
    );
  }
  if (!session.data.person) return <SignIn />;
  const { person } = session.data;
  return (
    <BrowserRouter>
      <SignInAgain />
      <Routes>
        <Route path="/" element={<ProductionsPage person={person} />} />
        <Route path="/productions/:production" element={<LibraryRoom person={person} />} />
        <Route path="/productions/:production/prints" element={<PrintsRoom person={person} />} />
        <Route path="/clips/:clip" element={<BenchRoom person={person} />} />
        <Route path="/takes/:take" element={<TakesRoom person={person} />} />
        <Route path="/lines/:line" element={<VoiceRoom person={person} />} />
        <Route path="/runs/:run" element={<DrawingsRoom person={person} />} />
        <Route path="/cut-outs/:cutOut" element={<CutOutRoom person={person} />} />
        <Route path="/scenes/:scene" element={<SceneRoom person={person} />} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </BrowserRouter>
  );
}
