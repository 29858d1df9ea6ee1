import "@fontsource/atkinson-hyperlegible-next/latin-400.css";
import "@fontsource/atkinson-hyperlegible-next/latin-600.css";
import "@fontsource/atkinson-hyperlegible-next/latin-700.css";
import "@fontsource/atkinson-hyperlegible-mono/latin-400.css";
import "@fontsource/atkinson-hyperlegible-mono/latin-600.css";
import "./theme/tokens.css";
import "./theme/app.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Link, Route, Routes } from "react-router";
import { Shelf } from "./features/shelf";
import { Preferences } from "./theme/mode";

// A page is loaded when it is gone to; the shelf is there at once.
const DrawerPage = lazy(() => import("./features/drawer").then((m) => ({ default: m.DrawerPage })));
const WorkspacePage = lazy(() => import("./features/workspace").then((m) => ({ default: m.WorkspacePage })));
const queries = new QueryClient({
  defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: true, staleTime: 2_000 } },
});

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <Preferences>
        <BrowserRouter>
          <Suspense fallback={<main className="blank" aria-busy />}>
            <Routes>
              <Route path="/" element={<Shelf />} />
              <Route path="/drawer" element={<DrawerPage />} />
              <Route path="/design/:id/:facet?" element={<WorkspacePage />} />
              <Route
                path="*"
                element={
                  <main className="blank">
                    <h1>Nothing is kept here</h1>
                    <p>
                      <Link to="/">Back to the shelf</Link>
                    </p>
                  </main>
                }
              />
            </Routes>
          </Suspense>
        </BrowserRouter>
      </Preferences>
    </QueryClientProvider>
  </StrictMode>,
);
