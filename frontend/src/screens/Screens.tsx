import type { ComponentType } from "react";
import { Suspense } from "react";
import { Route, Routes, useLocation, useParams } from "react-router";

import { Coming } from "./Coming";
import { FirstScreen } from "./FirstScreen";
import { lazyScreen } from "./lazyScreen";
import { SafeGround } from "./SafeGround";

const BenchScreen = lazyScreen(async () => (await import("./bench/BenchScreen")).BenchScreen);
const SweepScreen = lazyScreen(async () => (await import("./sweep/SweepScreen")).SweepScreen);
const MorningScreen = lazyScreen(async () => (await import("./morning/MorningScreen")).MorningScreen);
const LedgerScreen = lazyScreen(async () => (await import("./ledger/LedgerScreen")).LedgerScreen);
const CareScreen = lazyScreen(async () => (await import("./care/CareScreen")).CareScreen);
const BringScreen = lazyScreen(async () => (await import("./bring/BringScreen")).BringScreen);
const RollScreen = lazyScreen(async () => (await import("./roll/RollScreen")).RollScreen);
const PartsScreen = lazyScreen(async () => (await import("./parts/PartsScreen")).PartsScreen);
const HelpScreen = lazyScreen(async () => (await import("./help/HelpScreen")).HelpScreen);
const DevicesScreen = lazyScreen(async () => (await import("./devices/DevicesScreen")).DevicesScreen);
const MineScreen = lazyScreen(async () => (await import("./mine/MineScreen")).MineScreen);
const PracticeScreen = lazyScreen(async () => (await import("./practice/PracticeScreen")).PracticeScreen);
const KeptGoScreen = lazyScreen(async () => (await import("./practice/GoScreen")).KeptGoScreen);
const TryScreen = lazyScreen(async () => (await import("./practice/GoScreen")).TryScreen);
const PaperScreen = lazyScreen(async () => (await import("./paper/PaperScreen")).PaperScreen);
const ClassScreen = lazyScreen(async () => (await import("./class/ClassScreen")).ClassScreen);
const StageScreen = lazyScreen(async () => (await import("./class/StageScreen")).StageScreen);
const FirstTimeScreen = lazyScreen(async () => (await import("./first/FirstTimeScreen")).FirstTimeScreen);
const PlainBench = lazyScreen(async () => (await import("./bench/PlainBench")).PlainBench);
const TwoBench = lazyScreen(async () => (await import("./bench/TwoBench")).TwoBench);
const FifthsScreen = lazyScreen(async () => (await import("./fifths/FifthsScreen")).FifthsScreen);

/** Every screen at its address. Each instrument gets screens of its own, so that nothing of the one before is carried along. */
export function Screens() {
  const { pathname } = useLocation();
  return (
    <SafeGround place={pathname}>
      <Suspense fallback={<Coming />}>
        <Routes>
          <Route path="/" element={<FirstScreen />} />
          <Route path="/roll" element={<RollScreen />} />
          <Route path="/sweep" element={<SweepScreen />} />
          <Route path="/ledger/:instrumentId" element={<OfInstrument screen={LedgerScreen} />} />
          <Route path="/parts" element={<PartsScreen />} />
          <Route path="/help" element={<HelpScreen />} />
          <Route path="/devices" element={<DevicesScreen />} />
          <Route path="/mine" element={<MineScreen />} />
          <Route path="/practice" element={<PracticeScreen />} />
          <Route path="/practice/go/:goId" element={<KeptGoScreen />} />
          <Route path="/practice/try/:drill" element={<TryScreen />} />
          <Route path="/paper" element={<PaperScreen />} />
          <Route path="/class" element={<ClassScreen />} />
          <Route path="/stage" element={<StageScreen />} />
          <Route path="/first" element={<FirstTimeScreen />} />
          <Route path="/plain/:instrumentId" element={<OfInstrument screen={PlainBench} />} />
          <Route path="/two/:instrumentId" element={<OfInstrument screen={TwoBench} />} />
          <Route path="/care" element={<CareScreen />} />
          <Route path="/bring" element={<BringScreen />} />
          <Route path="/bench/:instrumentId" element={<OfInstrument screen={BenchScreen} />} />
          <Route path="/morning" element={<MorningScreen />} />
          <Route path="/fifths/:instrumentId" element={<OfInstrument screen={FifthsScreen} />} />
          <Route path="*" element={<FirstScreen />} />
        </Routes>
      </Suspense>
    </SafeGround>
  );
}

function OfInstrument({ screen: Screen }: { screen: ComponentType }) {
  const { instrumentId } = useParams();
  return <Screen key={instrumentId} />;
}
