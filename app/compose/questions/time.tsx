import { Clock } from "lucide-react";
import type { QuestionSettings } from "../form/question-kinds";
import { FieldSketch } from "../form/sketch";

export const settings: QuestionSettings<"time"> = { icon: Clock, Sketch: FieldSketch, Fields: () => null };
