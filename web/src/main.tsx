import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { useMemo } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import { Home } from "./home/Home";
import { LayeredPage } from "./layered/LayeredPage";
import { LogPage } from "./log/LogPage";
import { LostPage } from "./shell/LostPage";
import { Notices } from "./shell/Notices";
import { PiecePage } from "./shell/PiecePage";
import { makeTheme, useSurround } from "./theme/theme";

const client = new QueryClient({
  defaultOptions: { queries: { retry: 1, staleTime: 0 } },
});

const router = createBrowserRouter([
  { path: "/", element: <Home /> },
  { path: "/piece/:id/:step?", element: <PiecePage /> },
  { path: "/log", element: <LogPage /> },
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
        <RouterProvider router={router} />
        <Notices />
      </QueryClientProvider>
    </ThemeProvider>
  );
}

const root = document.getElementById("root");
if (root) createRoot(root).render(<App />);
