import { redirect } from "react-router";
import type { Route } from "./+types/study-start";

export const loader = ({ params }: Route.LoaderArgs) => redirect(`/studies/${params.code}/plan`);
