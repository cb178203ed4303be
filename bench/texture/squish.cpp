// Times libsquish's encoders on raw RGBA: squish FILE SIDE OUT range|cluster bc1|bc3
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <squish.h>
#include <vector>

int main(int, char **argv) {
  const int side = std::atoi(argv[2]);
  std::vector<unsigned char> in(side * side * 4);
  FILE *file = std::fopen(argv[1], "rb");
  if (!file || std::fread(in.data(), 1, in.size(), file) != in.size()) return 1;
  std::fclose(file);
  const bool bc1 = !std::strcmp(argv[5], "bc1");
  const int flags = (bc1 ? squish::kDxt1 : squish::kDxt5) |
                    (std::strcmp(argv[4], "range") ? squish::kColourClusterFit : squish::kColourRangeFit);
  if (bc1) for (std::size_t i = 3; i < in.size(); i += 4) in[i] = 255;
  std::vector<unsigned char> out(squish::GetStorageRequirements(side, side, flags));
  const auto began = std::chrono::steady_clock::now();
  squish::CompressImage(in.data(), side, side, out.data(), flags);
  std::printf("%f\n", std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count());
  file = std::fopen(argv[3], "wb");
  std::fwrite(out.data(), 1, out.size(), file);
  return std::fclose(file);
}
