import { addressOf } from "#app/views/text/address.ts";
import type { Picture } from "#core/text/manuscript.ts";

/** A picture beside the text, small, with what is said of it. */
export function SmallPicture({ picture }: { picture: Picture }) {
  return (
    <span className="block">
      <img
        src={addressOf(picture.file, 480)}
        alt={picture.alt}
        className="max-h-40 w-full bg-platform object-contain"
      />
      <span className="mt-0.5 block text-12 font-normal text-rail">
        {[picture.caption, picture.credit].filter(Boolean).join(" · ")}
      </span>
    </span>
  );
}
