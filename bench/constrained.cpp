// A constrained triangulation by CGAL (Debian libcgal-dev) of the points and segments in a file, as a peer that is timed:
// prints the milliseconds that it takes, and how many triangles there are. The file: two 32-bit counts, x and y of each
// point as 64-bit numbers, two 32-bit indices of each segment.
#include <CGAL/Constrained_Delaunay_triangulation_2.h>
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <chrono>
#include <cstdint>
#include <cstdio>
#include <vector>

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Triangulation = CGAL::Constrained_Delaunay_triangulation_2<Kernel>;

int main(int count, char **arguments) {
  FILE *file = count > 1 ? std::fopen(arguments[1], "rb") : nullptr;
  std::uint32_t sizes[2];
  if (!file || std::fread(sizes, 4, 2, file) != 2) return 1;
  std::vector<double> places(2 * sizes[0]);
  std::vector<std::uint32_t> ends(2 * sizes[1]);
  if (std::fread(places.data(), 8, places.size(), file) != places.size()) return 1;
  if (std::fread(ends.data(), 4, ends.size(), file) != ends.size()) return 1;
  std::vector<Kernel::Point_2> points;
  for (std::uint32_t i = 0; i < sizes[0]; i++) points.emplace_back(places[2 * i], places[2 * i + 1]);
  std::vector<std::pair<std::size_t, std::size_t>> segments;
  for (std::uint32_t i = 0; i < sizes[1]; i++) segments.emplace_back(ends[2 * i], ends[2 * i + 1]);
  const auto start = std::chrono::steady_clock::now();
  Triangulation made;
  // Puts all points in, sorted by place, then the sides.
  made.insert_constraints(points.begin(), points.end(), segments.begin(), segments.end());
  const std::chrono::duration<double, std::milli> taken = std::chrono::steady_clock::now() - start;
  std::printf("%f %zu\n", taken.count(), static_cast<std::size_t>(made.number_of_faces()));
  return 0;
}
