import { simulatedTracker } from "../simulated-tracker";
import { lines } from "./lines";
import { trackerSuite } from "./suite";

trackerSuite("lines", lines, (rate) => simulatedTracker(0, { rate }));
