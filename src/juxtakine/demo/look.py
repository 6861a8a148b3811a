"""What a made-up dancer wears and the room around them."""

from dataclasses import dataclass

Colour = tuple[float, float, float]


@dataclass(frozen=True)
class Look:
    """Colours are red, green, blue from 0 to 1; `sleeve` 0 none to 2 wrist; `hem` 1 knee to 2 ankle."""

    body: str = "f"
    skin: Colour = (0.78, 0.55, 0.43)
    hair: Colour = (0.12, 0.07, 0.05)
    shirt: Colour = (0.75, 0.12, 0.14)
    trousers: Colour = (0.13, 0.16, 0.30)
    shoes: Colour = (0.92, 0.92, 0.92)
    sleeve: float = 0.55
    hem: float = 1.9
    loose: float = 0.012
    hair_volume: float = 0.016
    bun: float = 0.045
    stripes: float = 0.0
    bare_feet: bool = False
    wall: Colour = (0.72, 0.74, 0.76)
    floor: Colour = (0.55, 0.42, 0.30)
    light: Colour = (0.5, 1.2, 0.85)
    key: float = 2.1
    ambient: float = 0.75
    grain: float = 2.5
