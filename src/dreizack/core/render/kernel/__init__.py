"""The renderer underneath: loaded once, its kernels compiled, and calling them off while they run."""
