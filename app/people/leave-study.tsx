import { useFetcher, useNavigate } from "react-router";
import { useDone } from "~/app/components/use-done";
import { Button } from "~/app/components/button";
import { Dialog } from "~/app/components/dialog";

/** Asks whether somebody wants to work on a study no more, and then leads back to the others. */
export function LeaveStudy({ code, onClose }: { code: string; onClose: () => void }) {
  const leaving = useFetcher<{ reason?: string }>();
  const navigate = useNavigate();
  useDone(leaving, () => {
    onClose();
    void navigate("/studies");
  });
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Leave this study?"
      description="You will not find it any more, until an owner shares it with you again. Nothing of it is lost."
    >
      {leaving.data?.reason && (
        <p role="alert" className="text-alarm">
          {leaving.data.reason}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Stay</Button>
        <Button
          disabled={leaving.state !== "idle"}
          onClick={() =>
            void leaving.submit(
              { do: "leave" },
              { method: "post", encType: "application/json", action: `/studies/${code}/people` },
            )
          }
        >
          Leave
        </Button>
      </div>
    </Dialog>
  );
}
