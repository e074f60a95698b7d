import type { StudyDocument } from "../design/document";
import type { Check, Finding } from "./finding";

const said = (level: Finding["level"], message: string): Finding => ({ level, where: "gaze", message, target: {} });

/** What gaze needs to be told in degrees, and to be recorded at all. */
export const gazeProblems: Check = ({ settings, parts }: StudyDocument) => {
  if (!settings.gaze) return [];
  const hasTrials = Object.values(parts).some(({ kind }) => kind === "block");
  return [
    ...(settings.viewing
      ? []
      : [said("error", "Gaze is told in degrees, but no viewing distance is set. Set it in Plan, under Gaze.")]),
    ...(hasTrials ? [] : [said("warning", "Gaze is recorded from the first trial on, and the study has no block.")]),
    ...(settings.fullScreen
      ? []
      : [
          said(
            "warning",
            "Outside full screen a window can be moved away from where the tracker was calibrated. Ask for full screen in Plan, from link to goodbye.",
          ),
        ]),
    ...(settings.gaze.points === "one"
      ? [said("note", "One point takes out a shift alone; what is bent elsewhere on the stage stays.")]
      : []),
  ];
};
