import { Printer } from "lucide-react";
import { renderSVG } from "uqr";
import { data, Link } from "react-router";
import { requireStudy } from "~/app/study-access.server";
import { Button, buttonClass } from "~/app/components/button";
import { frozenDocument } from "~/server/frozen-documents";
import { linksOf } from "~/server/links";
import { waveOf } from "~/server/waves";
import { wordingFor } from "~/core/wording/wording";
import type { Route } from "./+types/poster";

/** A page to print for one link: what the study is, its address, and the address as a code to scan. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const study = await requireStudy(request, context, params.code, "hand-out");
  const { store, publicAddress } = context;
  const link = (await linksOf(store, study.id)).find(({ token }) => token === params.token);
  if (!link) throw data(null, { status: 404 });
  const wave = await waveOf(store.db, study.id, link.waveId);
  if (!wave) throw data(null, { status: 404 });
  const { title, language, settings } = await frozenDocument(store.db, wave.release_id);
  const { welcome, contact, wording } = settings.participation;
  const address = `${publicAddress?.origin ?? new URL(request.url).origin}/join/${link.token}`;
  return {
    code: study.code,
    ...{ title, language, welcome, contact, address },
    questions: wordingFor(language, wording).questions,
    // A quarter of it may be torn off or dirty: it is read all the same.
    scan: renderSVG(address, { ecc: "Q", border: 2 }),
    isPublic: publicAddress !== null,
  };
}

export const meta: Route.MetaFunction = ({ loaderData }) => [{ title: `Poster · ${loaderData?.title ?? ""}` }];

export default function Poster({ loaderData }: Route.ComponentProps) {
  const { code, title, language, welcome, contact, address, questions, scan, isPublic } = loaderData;
  return (
    <div className="min-h-dvh bg-white text-black">
      <div className="flex items-center gap-2 border-b border-[#ddd] p-3 print:hidden">
        <Link to={`/studies/${code}/collect`} className={buttonClass("plain")}>
          Back to Collect
        </Link>
        <Button icon={Printer} look="primary" onClick={() => window.print()}>
          Print
        </Button>
        {!isPublic && (
          <p className="text-sm text-[#8a3b12]">
            The address is the one you see this page at. Set LAPWING_URL where participants reach it by another.
          </p>
        )}
      </div>
      <main lang={language} className="mx-auto grid max-w-[640px] justify-items-center gap-6 px-8 py-12 text-center">
        <h1 className="font-serif text-[44px] leading-[1.15]">{title}</h1>
        {welcome
          .split("\n")
          .filter((line) => line.trim() !== "")
          .map((line, index) => (
            <p key={index} className="text-[20px] leading-8">
              {line}
            </p>
          ))}
        <img
          src={`data:image/svg+xml;utf8,${encodeURIComponent(scan)}`}
          alt={`Code to scan: ${address}`}
          className="w-[300px]"
        />
        <p className="break-all font-mono text-[18px]">{address}</p>
        {contact.trim() !== "" && (
          <p className="text-[16px]">
            <b>{questions}</b> {contact}
          </p>
        )}
      </main>
    </div>
  );
}
