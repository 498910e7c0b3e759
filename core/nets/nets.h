#pragma once

#include "base/rect.h"
#include "base/result.h"
#include "base/run.h"

#include <array>
#include <cstdint>
#include <string>
#include <vector>

namespace buttonhole
{

/// A small picture, sRGB codes, rows of R, G, B without gaps.
struct NetPicture {
    int width = 0;
    int height = 0;
    std::vector<uint8_t> rgb;
};

struct NetBox {
    float x0 = 0, y0 = 0, x1 = 0, y1 = 0; ///< px of the picture
    float score = 0;                      ///< 0..1
    int kind = 0;                         ///< line of the class list, from 0
};

/// What the loadable module offers: neural networks and cascades, by OpenCV and oneDNN. Calls may
/// come from any thread; each net works for one at a time, unless said otherwise, and stays loaded.
/// Errors: Damaged for a file that they cannot use.
struct NetsApi {
    /// Boxes of everyday things by NanoDet-g, scores from `leastScore`.
    Result<std::vector<NetBox>> (*detect)(const std::string &model, const NetPicture &picture,
                                          float leastScore);
    /// What stands out in a picture, side x side values 0..1, soft at hair: IS-Net, the picture
    /// squeezed to a square. On all processors; loaded when first asked for, let go after
    /// kSalientRestS without being asked. @param side kSalientSide or kSalientDraftSide
    /// Errors besides: Cancelled.
    Result<std::vector<float>> (*salient)(const std::string &model, const NetPicture &picture,
                                          int side, const Run &run);
    /// One plane of values 0..1 from `planes` planes of side x side, row by row, by a U-Net of
    /// three halvings. Several threads get answers at once, each by its own work.
    Result<std::vector<float>> (*coverage)(const std::string &model,
                                           const std::vector<float> &input, int planes, int side);
    /// Faces or eyes by a cascade. @param leastSide px @param leastWeight of the last stage's
    /// answer: more is surer
    Result<std::vector<Rect>> (*cascade)(const std::string &file, const NetPicture &picture,
                                         int leastSide, double leastWeight);
};

inline constexpr int kDetectorSide = 416; ///< px, of what the detector sees
inline constexpr int kSalientSide = 512;
inline constexpr int kSalientDraftSide = 320; ///< takes less than half of the time
inline constexpr int kSalientRestS = 60;      ///< seconds
inline constexpr const char *kEdgeModel = "edge.onnx";
inline constexpr const char *kSalientModel = "isnet_f16.onnx";

/// The module, loaded on first use. Errors: NotFound (the installation is incomplete).
Result<const NetsApi *> loadNets();

/// Where a model of the folder `models` lies. Errors: NotFound; Damaged where its contents are not
/// those that this version was made with.
Result<std::string> findModel(const std::string &name);

/// What steps remember of the models they were made with.
inline constexpr const char *kModelsVersion = "nanodet-g-416, isnet-512";

} // namespace buttonhole
