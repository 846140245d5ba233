import { MantineProvider } from '@mantine/core';
import { QueryClient, QueryClientProvider, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { BrowserRouter, Navigate, Route, Routes, useLocation } from 'react-router';
import { onSignedOut } from '../api/client';
import { ApiProblem } from '../api/problem';
import { sessionQuery } from '../api/queries';
import type { Person } from '../api/types';
import { OutboxProvider } from '../outbox/OutboxProvider';
import { Notice } from '../parts/Notice';
import classes from './App.module.css';
import { Loaded } from './Loaded';
import { PersonProvider, useMay } from './person';
import {
  BatchBottlesScreen,
  BatchesScreen,
  BenchmarkScreen,
  BenchScreen,
  BottleScreen,
  BottlesScreen,
  CostsScreen,
  CountScreen,
  OriginScreen,
  RecallScreen,
  DosesScreen,
  DemandScreen,
  DrinkScreen,
  DrinksScreen,
  CalculatorsScreen,
  FormulasScreen,
  HobScreen,
  ImportScreen,
  IngredientForm,
  LabelScreen,
  loadTheRest,
  PantryScreen,
  PlanScreen,
  PricesScreen,
  SalesFileScreen,
  SalesScreen,
  SuppliersScreen,
  Rested,
  SignInAgain,
  SiteScreen,
  StartScreen,
  TastingsScreen,
  TodayScreen,
  VersionsScreen,
} from './screens';
import { Shell } from './Shell';
import { SignInScreen } from './SignInScreen';
import { SomebodyIsHere } from './SomebodyIsHere';
import { theme, variables } from './theme';

const styleNonce = () => document.querySelector<HTMLMetaElement>('meta[name="style-nonce"]')?.content ?? '';

/** The first screen stands by then. */
const REST_AFTER_MS = 4_000;

function makeClient() {
  return new QueryClient({
    defaultOptions: {
      queries: {
        retry: (count, error) => error instanceof ApiProblem && error.status === 0 && count < 3,
        // What the server could not answer is asked again until it can: the page comes back by itself.
        refetchInterval: (query) =>
          query.state.status === 'error' &&
          query.state.error instanceof ApiProblem &&
          [0, 502, 503, 504].includes(query.state.error.status)
            ? 3000
            : false,
        refetchOnWindowFocus: true,
        staleTime: 5_000,
      },
    },
  });
}

export function App() {
  const [queryClient] = useState(makeClient);
  return (
    <MantineProvider
      theme={theme}
      cssVariablesResolver={variables}
      defaultColorScheme="auto"
      getStyleNonce={styleNonce}
    >
      <QueryClientProvider client={queryClient}>
        <BrowserRouter>
          <Gate />
        </BrowserRouter>
      </QueryClientProvider>
    </MantineProvider>
  );
}

/** Signed out: the sign-in page; signed in: the shell with its screens, which stay if the session ends. */
function Gate() {
  const session = useQuery(sessionQuery);
  const queryClient = useQueryClient();
  const [last, setLast] = useState<Person | null>(null);
  useEffect(
    () => onSignedOut(() => void queryClient.invalidateQueries({ queryKey: sessionQuery.queryKey })),
    [queryClient],
  );
  const signedIn = session.data?.person != null;
  useEffect(() => {
    if (!signedIn) return;
    const timer = window.setTimeout(() => void loadTheRest(), REST_AFTER_MS);
    return () => window.clearTimeout(timer);
  }, [signedIn]);
  if (session.isPending)
    return (
      <p role="status" className={classes.waiting}>
        Connecting …
      </p>
    );
  if (session.isError) return <Notice tone="stop" text={session.error.message} />;
  const { person, demo_sign_ins } = session.data;
  if (person && person !== last) setLast(person);
  const shown = person ?? last;
  if (!shown) return <SignInScreen demoSignIns={demo_sign_ins} />;
  return (
    <OutboxProvider person={person?.resting ? undefined : person?.username}>
      <PersonProvider key={shown.username} person={shown}>
        <Loaded quiet>
          {!person && <SignInAgain demoSignIns={demo_sign_ins} name={shown.name} />}
          {person?.resting && <Rested demoSignIns={demo_sign_ins} name={person.name} />}
        </Loaded>
        {person && !person.resting && <SomebodyIsHere />}
        <Routes>
          <Route
            path="/batches/:id"
            element={
              <Loaded>
                <HobScreen />
              </Loaded>
            }
          />
          <Route path="*" element={<Desk />} />
        </Routes>
      </PersonProvider>
    </OutboxProvider>
  );
}

/** The screens beside the rail. */
function Desk() {
  const area = useLocation().pathname.split('/')[1];
  // A bar sees its bottles and its doses, and nothing else.
  if (!useMay('read')) return <Bar />;
  return (
    <Shell>
      {/* Where one screen could not be loaded, another may be. */}
      <Loaded key={area}>
        <Routes>
          <Route path="/" element={<TodayScreen />} />
          <Route path="/formulas" element={<FormulasScreen />} />
          <Route path="/formulas/import" element={<ImportScreen />} />
          <Route path="/formulas/new" element={<StartScreen />} />
          <Route path="/formulas/new/:starter" element={<BenchScreen />} />
          <Route path="/formulas/copy/:from" element={<BenchScreen />} />
          <Route path="/formulas/:id" element={<BenchScreen />} />
          <Route path="/formulas/:id/versions" element={<VersionsScreen />} />
          <Route path="/pantry" element={<PantryScreen />} />
          <Route path="/pantry/new" element={<IngredientForm />} />
          <Route path="/pantry/label" element={<LabelScreen />} />
          <Route path="/pantry/prices" element={<PricesScreen />} />
          <Route path="/pantry/suppliers" element={<SuppliersScreen />} />
          <Route path="/pantry/:id" element={<PantryScreen />} />
          <Route path="/pantry/:id/edit" element={<IngredientForm />} />
          <Route path="/batches" element={<BatchesScreen />} />
          <Route path="/costs" element={<CostsScreen />} />
          <Route path="/plan" element={<PlanScreen />} />
          <Route path="/plan/drinks" element={<DemandScreen />} />
          <Route path="/plan/sales" element={<SalesScreen />} />
          <Route path="/plan/sales/import" element={<SalesFileScreen />} />
          <Route path="/drinks" element={<DrinksScreen />} />
          <Route path="/drinks/doses" element={<DosesScreen />} />
          <Route path="/drinks/new" element={<DrinkScreen />} />
          <Route path="/drinks/:id" element={<DrinkScreen />} />
          <Route path="/bottles" element={<BottlesScreen />} />
          <Route path="/bottles/of/:batch" element={<BatchBottlesScreen />} />
          <Route path="/bottles/count" element={<CountScreen />} />
          <Route path="/bottles/recall" element={<RecallScreen />} />
          <Route path="/bottles/:id" element={<BottleScreen />} />
          <Route path="/bottles/:id/origin" element={<OriginScreen />} />
          <Route path="/tastings" element={<TastingsScreen />} />
          <Route path="/tastings/benchmarks/new" element={<BenchmarkScreen />} />
          <Route path="/tastings/benchmarks/:id" element={<BenchmarkScreen />} />
          <Route path="/calculators" element={<CalculatorsScreen />} />
          <Route path="/calculators/:id" element={<CalculatorsScreen />} />
          <Route path="/sums/*" element={<MovedTo from="/sums" to="/calculators" />} />
          <Route path="/site" element={<SiteScreen />} />
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </Loaded>
    </Shell>
  );
}

/** What a bar's own sign-in shows: its bottles and its doses. */
function Bar() {
  return (
    <Shell>
      <Loaded>
        <Routes>
          <Route path="/bottles" element={<BottlesScreen />} />
          <Route path="/bottles/of/:batch" element={<BatchBottlesScreen />} />
          <Route path="/bottles/count" element={<CountScreen />} />
          <Route path="/bottles/:id" element={<BottleScreen />} />
          <Route path="/drinks/doses" element={<DosesScreen />} />
          <Route path="*" element={<Navigate to="/bottles" replace />} />
        </Routes>
      </Loaded>
    </Shell>
  );
}

/** An address that was sent on before its screen was called otherwise, with all that stood behind it. */
function MovedTo({ from, to }: { from: string; to: string }) {
  const { pathname, search } = useLocation();
  return <Navigate to={to + pathname.slice(from.length) + search} replace />;
}
