"""Type names for the arrays that modules exchange."""

import numpy as np
from numpy.typing import NDArray

Samples = NDArray[np.float32]
"""Audio: float32 of shape (frames, width), full scale 1, width 1 or 2."""

Floats = NDArray[np.float64]

Raw = NDArray[np.int32] | NDArray[np.float32]
"""Audio as it was decoded: shape (frames, width), integers left-justified in 32 bits or floats of full scale 1."""
