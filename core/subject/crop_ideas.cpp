#include "subject/crop_ideas.h"

#include "io/lab_row.h"
#include "subject/salient.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

/// How much is cut where a side lies: steps of lightness along rows and columns of a small photo.
class Cuts
{
public:
    explicit Cuts(const PhotoLevels &levels)
    {
        constexpr int kEdge = 400;
        const int level = levels.levelWithin(kEdge);
        const Rect area = levels.rectOf(level);
        m_scale = double(area.width()) / levels.photo().width;
        cv::Mat1f light(area.height(), area.width());
        LabRow row;
        for (int y = 0; y < light.rows; ++y)
            for (int x = 0; x < light.cols; x += kRowRun) {
                const int n = std::min(kRowRun, light.cols - x);
                row.read(levels, level, x, y, n);
                std::copy_n(row.L, n, light[y] + x);
            }
        cv::Mat1f alongX;
        cv::Mat1f alongY;
        cv::Sobel(light, alongX, CV_32F, 1, 0);
        cv::Sobel(light, alongY, CV_32F, 0, 1);
        // What crosses a side has its edge along the other axis.
        cv::integral(cv::abs(alongY), m_acrossColumn, CV_64F);
        cv::integral(cv::abs(alongX), m_acrossRow, CV_64F);
        m_usual = std::max(1e-6, (cv::mean(cv::abs(alongX))[0] + cv::mean(cv::abs(alongY))[0]) / 2);
    }

    /// Mean over the sides that lie inside of the photo; 1 is usual for it.
    double along(const Rect &crop, const Rect &photo) const
    {
        constexpr int kThick = 3;
        double sum = 0;
        int sides = 0;
        const int x0 = int(crop.x0 * m_scale);
        const int x1 = int(crop.x1 * m_scale);
        const int y0 = int(crop.y0 * m_scale);
        const int y1 = int(crop.y1 * m_scale);
        const auto add = [&](const cv::Mat1d &sums, int ax, int ay, int bx, int by) {
            const cv::Rect part = cv::Rect(ax, ay, std::max(1, bx - ax), std::max(1, by - ay)) &
                                  cv::Rect(0, 0, sums.cols - 1, sums.rows - 1);
            if (part.empty())
                return;
            const double all = sums(part.br()) - sums(part.y, part.x + part.width) -
                               sums(part.y + part.height, part.x) + sums(part.tl());
            sum += all / part.area() / m_usual;
            ++sides;
        };
        if (crop.x0 > photo.x0)
            add(m_acrossColumn, x0 - 1, y0, x0 + kThick - 1, y1);
        if (crop.x1 < photo.x1)
            add(m_acrossColumn, x1 - 1, y0, x1 + kThick - 1, y1);
        if (crop.y0 > photo.y0)
            add(m_acrossRow, x0, y0 - 1, x1, y0 + kThick - 1);
        if (crop.y1 < photo.y1)
            add(m_acrossRow, x0, y1 - 1, x1, y1 + kThick - 1);
        return sides > 0 ? sum / sides : 0;
    }

private:
    double m_scale = 1;
    double m_usual = 1;
    cv::Mat1d m_acrossColumn;
    cv::Mat1d m_acrossRow;
};

/// A part of the photo of that shape, with the subject's middle at a place of it as far as it goes;
/// empty where the subject does not fit in with some room.
Rect placed(const Rect &subject, const Rect &photo, double width, double height, double atX,
            double atY)
{
    constexpr double kRoom = 0.02; // of the crop
    const double x = (subject.x0 + subject.x1) / 2.0 - atX * width;
    const double y = (subject.y0 + subject.y1) / 2.0 - atY * height;
    const int w = std::min(int(std::lround(width)), photo.width());
    const int h = std::min(int(std::lround(height)), photo.height());
    const int left = std::clamp(int(std::lround(x)), 0, photo.width() - w);
    const int top = std::clamp(int(std::lround(y)), 0, photo.height() - h);
    const Rect out{left, top, left + w, top + h};
    const auto fits = [&](int from, int to, int a, int b, int least, int most, double room) {
        return (from >= a + room || a == least) && (to <= b - room || b == most);
    };
    const bool holds =
        fits(subject.x0, subject.x1, out.x0, out.x1, photo.x0, photo.x1, kRoom * w) &&
        fits(subject.y0, subject.y1, out.y0, out.y1, photo.y0, photo.y1, kRoom * h);
    return holds ? out : Rect{};
}

/// How far the subject's middle is from the nearest line that it may lie on, share of the crop.
double offLine(double at)
{
    return std::min({std::abs(at - 1.0 / 3), std::abs(at - 0.5), std::abs(at - 2.0 / 3)});
}

/// Crops by how little there is against them.
std::vector<std::pair<double, Rect>> scored(const Rect &photo, const Cuts &cuts,
                                            const Rect &subject, double ratio)
{
    constexpr double kShares[] = {0.4, 0.55, 0.75}; // of the subject, the longer way
    constexpr double kPlaces[] = {1.0 / 3, 0.5, 2.0 / 3};
    constexpr double kLeastArea = 0.06; // of the photo: less is another photo
    constexpr double kWhole = 0.95;
    const double own = double(photo.width()) / photo.height();
    const std::vector<double> ratios =
        ratio > 0 ? std::vector<double>{ratio}
                  : std::vector<double>{own, 1 / own, 1, 5.0 / 4, 4.0 / 5, 16.0 / 9};
    std::vector<std::pair<double, Rect>> found;
    for (const double each : ratios)
        for (const double share : kShares) {
            const double width = std::max(double(subject.width()), subject.height() * each) / share;
            const double fits =
                std::min({1.0, photo.width() / width, photo.height() * each / width});
            for (const double atX : kPlaces)
                for (const double atY : kPlaces) {
                    const Rect crop =
                        placed(subject, photo, width * fits, width * fits / each, atX, atY);
                    const double area = double(crop.area()) / double(photo.area());
                    if (area < kLeastArea || area > kWhole)
                        continue;
                    const double x = ((subject.x0 + subject.x1) / 2.0 - crop.x0) / crop.width();
                    const double y = ((subject.y0 + subject.y1) / 2.0 - crop.y0) / crop.height();
                    const double score = 3 * (offLine(x) + offLine(y)) +
                                         0.35 * cuts.along(crop, photo) -
                                         0.5 * std::sqrt(std::min(area, 0.5));
                    found.emplace_back(score, crop);
                }
        }
    std::stable_sort(found.begin(), found.end(),
                     [](const auto &a, const auto &b) { return a.first < b.first; });
    return found;
}

} // namespace

Result<std::vector<Rect>> findWhatStandsOut(const PhotoLevels &levels, const Run &run)
{
    constexpr float kLeastTrust = 0.35F;
    const Rect photo = levels.photo().rect();
    const auto found = findSalient(levels, photo, run);
    if (!found)
        return found.error();
    std::vector<Rect> out;
    if (found->trust < kLeastTrust)
        return out;
    const cv::Mat1f inside(found->inside.height(), found->inside.width(),
                           const_cast<float *>(found->inside.row(0)));
    cv::Rect all;
    for (const cv::Rect &part : partsOfAnswer(*found))
        all |= part;
    if (all.empty())
        return out;
    const auto inPhoto = [&](const cv::Rect &r) {
        const double sx = double(photo.width()) / inside.cols;
        const double sy = double(photo.height()) / inside.rows;
        return intersected({int(r.x * sx), int(r.y * sy), int(std::ceil(r.br().x * sx)),
                            int(std::ceil(r.br().y * sy))},
                           photo);
    };
    out.push_back(inPhoto(all));
    // Where so much of it lies left of a column, or above a row.
    const auto placeOf = [&](int dimension, double share) {
        cv::Mat1d sums;
        cv::reduce(inside(all), sums, dimension, cv::REDUCE_SUM, CV_64F);
        const double whole = cv::sum(sums)[0];
        double sum = 0;
        int at = 0;
        for (const double each : sums) {
            sum += each;
            if (sum >= share * whole)
                break;
            ++at;
        }
        return at;
    };
    constexpr double kSides = 0.15;
    constexpr double kLower = 0.45;
    const int left = placeOf(0, kSides);
    const int right = placeOf(0, 1 - kSides);
    const int lower = placeOf(1, kLower);
    out.push_back(inPhoto({all.x + left, all.y, std::max(1, right - left), std::max(1, lower)}));
    return out;
}

std::vector<Rect> findCropIdeas(const PhotoLevels &levels, const std::vector<Rect> &subjects,
                                double ratio, size_t most)
{
    constexpr size_t kEnough = 3;
    constexpr double kAlike = 0.8;
    const Cuts cuts(levels);
    std::vector<Rect> out;
    for (const Rect &subject : subjects) {
        if (out.size() >= kEnough)
            break;
        for (const auto &[score, crop] : scored(levels.photo().rect(), cuts, subject, ratio)) {
            const bool isNew = std::none_of(out.begin(), out.end(), [&crop = crop](const Rect &r) {
                return likeness(r, crop) > kAlike;
            });
            if (isNew && out.size() < most)
                out.push_back(crop);
        }
    }
    return out;
}

} // namespace buttonhole
