// A file dropped anywhere that does not take it itself goes to Bring in, which says what it is.
import { useEffect } from "react";
import { useNavigate } from "react-router";
import { hand } from "./dropped";

export function DropAnywhere() {
  const navigate = useNavigate();
  useEffect(() => {
    const over = (event: DragEvent) => {
      if (event.dataTransfer?.types.includes("Files")) event.preventDefault();
    };
    const drop = (event: DragEvent) => {
      const file = event.dataTransfer?.files[0];
      if (event.defaultPrevented || !file) return;
      event.preventDefault();
      hand(file);
      navigate("/bring-in");
    };
    window.addEventListener("dragover", over);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragover", over);
      window.removeEventListener("drop", drop);
    };
  }, [navigate]);
  return null;
}
