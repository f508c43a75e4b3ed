"""Words of known looks, and the training of the network that tells them."""

import os

# The product reads pages side by side, each in one thread; training has the machine to itself.
os.environ["OMP_THREAD_LIMIT"] = str(os.cpu_count() or 1)
