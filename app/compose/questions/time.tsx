import { Clock } from "lucide-react";
import type { QuestionSettings } from "../form/question-kinds";

export const settings: QuestionSettings<"time"> = { icon: Clock, Fields: () => null };
