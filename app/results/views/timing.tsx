import type { ResultView } from "../result-views";
import { TimingReport } from "../timing-report";

export const View: ResultView<"timing"> = ({ answer }) => <TimingReport timing={answer} />;
