# SPDX-License-Identifier: MIT
"""A dense solve of ten nodes a step by numpy, against the step that stands in the first argument, in microseconds."""
import sys
import time

import numpy

nodes = 10
matrix = numpy.zeros((nodes, nodes))
for i in range(nodes):
    matrix[i, i] = 5
    if i > 0:
        matrix[i, i - 1] = matrix[i - 1, i] = -1
right = numpy.ones(nodes)
steps = 50000
numpy.linalg.solve(matrix, right)
start = time.perf_counter()
for _ in range(steps):
    numpy.linalg.solve(matrix, right)
took = 1e6 * (time.perf_counter() - start) / steps
print(f"  numpy's dense solve of ten nodes takes {took:.2f} us: {took / float(sys.argv[1]):.0f} times as long as a step here")
