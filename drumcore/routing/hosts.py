"""Stand-in hosts: how many outputs they have and how wide each is. Simulated; they ship with the product."""

from drumcore.kit.values import Width

HOSTS: dict[str, tuple[Width, ...]] = {
    "Ferry 16": (Width.STEREO,) * 16,
}
