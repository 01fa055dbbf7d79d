// Where everything is: Today, and the stations of a trial; the shop is a drawer over any of them.
import { lazy, Suspense, useState } from "react";
import { Navigate, Route, Routes } from "react-router";
import { CurePage } from "../cure/CurePage";
import { GluePage } from "../glue/GluePage";
import { Today } from "../over/Today";
import { PlanPage } from "../plan/PlanPage";
import { SawPage } from "../saw/SawPage";
import { ShopDrawer } from "../shop/ShopDrawer";
import { useChanges } from "./changes";
import { DropAnywhere } from "./DropAnywhere";
import { KeysHelp } from "./KeysHelp";
import { ShopContext } from "./shopContext";
import { TrialShell } from "./TrialShell";
import { useAlarms } from "./useAlarms";

const BringInPage = lazy(() => import("../bringing/BringInPage").then((m) => ({ default: m.BringInPage })));
const TimetablePage = lazy(() =>
  import("../timetable/TimetablePage").then((m) => ({ default: m.TimetablePage })),
);
const Scan = lazy(() => import("../over/Scan").then((m) => ({ default: m.Scan })));
const BreakPage = lazy(() => import("../breaking/BreakPage").then((m) => ({ default: m.BreakPage })));
const HistoryPage = lazy(() => import("../over/HistoryPage").then((m) => ({ default: m.HistoryPage })));
const BookPage = lazy(() => import("../library/BookPage").then((m) => ({ default: m.BookPage })));
const ComparePage = lazy(() => import("../compare/ComparePage").then((m) => ({ default: m.ComparePage })));

export function App() {
  const [shopOpen, setShopOpen] = useState(false);
  useChanges();
  useAlarms();
  return (
    <ShopContext value={() => setShopOpen(true)}>
      <Suspense fallback={<p className="p-6">Opening …</p>}>
        <Routes>
          <Route path="/" element={<Today />} />
          <Route path="/trials/:trialId" element={<TrialShell />}>
            <Route index element={<Navigate to="plan" replace />} />
            <Route path="plan" element={<PlanPage />} />
            <Route path="saw" element={<SawPage />} />
            <Route path="timetable" element={<TimetablePage />} />
            <Route path="glue" element={<GluePage />} />
            <Route path="cure" element={<CurePage />} />
            <Route path="break" element={<BreakPage />} />
            <Route path="compare" element={<ComparePage />} />
            <Route path="history" element={<HistoryPage />} />
          </Route>
          <Route path="/book" element={<BookPage />} />
          <Route path="/bring-in" element={<BringInPage />} />
          <Route path="/scan" element={<Scan />} />
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </Suspense>
      <DropAnywhere />
      <ShopDrawer open={shopOpen} onClose={() => setShopOpen(false)} />
      <KeysHelp />
    </ShopContext>
  );
}
