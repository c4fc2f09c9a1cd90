import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, Suspense, useMemo } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import { Home } from "./home/Home";
import { piecesQuery } from "./api/pieces";
import { todayQuery } from "./api/time";
import { useWishes } from "./clock/state";
import { LostPage } from "./shell/LostPage";
import { Notices } from "./shell/Notices";
import { makeTheme, useSurround } from "./theme/theme";

const client = new QueryClient({
  defaultOptions: { queries: { retry: 1, staleTime: 0 } },
});

// Home is what is opened first: the other pages come after it, while nothing else is to be done.
const pages = {
  piece: async () => ({ default: (await import("./shell/PiecePage")).PiecePage }),
  layered: async () => ({ default: (await import("./layered/LayeredPage")).LayeredPage }),
  series: async () => ({ default: (await import("./series/SeriesPage")).SeriesPage }),
  page: async () => ({ default: (await import("./series/PagePage")).PagePage }),
  print: async () => ({ default: (await import("./steps/deliver/paper/PrintPage")).PrintPage }),
  log: async () => ({ default: (await import("./log/LogPage")).LogPage }),
  learn: async () => ({ default: (await import("./learn/LearnPage")).LearnPage }),
  lesson: async () => ({ default: (await import("./learn/LessonPage")).LessonPage }),
};
const [PiecePage, LayeredPage, LogPage] = [lazy(pages.piece), lazy(pages.layered), lazy(pages.log)];
const [LearnPage, LessonPage] = [lazy(pages.learn), lazy(pages.lesson)];
const [SeriesPage, PagePage, PrintPage] = [lazy(pages.series), lazy(pages.page), lazy(pages.print)];

// Home is drawn once, with its pieces, unless they are long in coming.
const PATIENCE = 400; // ms
let ready: Promise<unknown> = Promise.resolve();
if (location.pathname === "/") {
  ready = Promise.race([new Promise((done) => { setTimeout(done, PATIENCE); }),
    Promise.all([client.prefetchQuery(piecesQuery), client.prefetchQuery(todayQuery(useWishes.getState().day))])]);
  setTimeout(() => { for (const load of Object.values(pages)) void load().catch(() => undefined); }, 1500);
}

const router = createBrowserRouter([
  { path: "/", element: <Home /> },
  { path: "/piece/:id/print", element: <PrintPage /> },
  { path: "/piece/:id/:step?", element: <PiecePage /> },
  { path: "/series/:id", element: <SeriesPage /> },
  { path: "/page/:id", element: <PagePage /> },
  { path: "/log", element: <LogPage /> },
  { path: "/learn", element: <LearnPage /> },
  { path: "/learn/:key", element: <LessonPage /> },
  { path: "/layered/:id", element: <LayeredPage /> },
  { path: "*", element: <LostPage /> },
]);

function App() {
  const surround = useSurround((s) => s.surround);
  const theme = useMemo(() => makeTheme(surround), [surround]);
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <QueryClientProvider client={client}>
        <Suspense fallback={null}><RouterProvider router={router} /></Suspense>
        <Notices />
      </QueryClientProvider>
    </ThemeProvider>
  );
}

const root = document.getElementById("root");
if (root) void ready.then(() => createRoot(root).render(<App />));
