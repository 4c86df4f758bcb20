import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { LinearFilter, SRGBColorSpace, type Texture, TextureLoader } from "three";

/** A picture as a texture; the view is drawn anew once it is here, and the card lets go of it afterwards. */
export function useTexture(address: string | null): Texture | null {
  const { invalidate } = useThree();
  const texture = useMemo(() => {
    if (!address) return null;
    const made = new TextureLoader().load(address, () => invalidate());
    made.colorSpace = SRGBColorSpace;
    // smaller copies of it would draw what is in its middle out to its edges
    made.generateMipmaps = false;
    made.minFilter = LinearFilter;
    return made;
  }, [address, invalidate]);
  useEffect(() => () => texture?.dispose(), [texture]);
  return texture;
}
