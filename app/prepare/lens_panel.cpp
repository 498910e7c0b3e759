#include "prepare/lens_panel.h"

#include "commands/move_words.h"
#include "controls/sign_button.h"
#include "lens/lens_library.h"

#include <QCompleter>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPointer>
#include <QStringListModel>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

namespace
{

const Lens &lensOf(const Take &take)
{
    static const Lens none;
    for (const AdjustmentLine &line : take.prepare)
        if (const auto *lens = dynamic_cast<const Lens *>(line.adjustment.get()))
            return *lens;
    return none;
}

} // namespace

LensPanel::LensPanel(Session &session, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_jobs(jobs), m_used(new QLabel(this))
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 4);
    layout->setSpacing(6);
    addButtons();
    addField();
    m_used->setObjectName(QStringLiteral("lensUsed"));
    m_used->setWordWrap(true);
    m_used->setTextFormat(Qt::PlainText);
    layout->addWidget(m_used);
    m_typing.setSingleShot(true);
    m_typing.setInterval(150);
    connect(&m_typing, &QTimer::timeout, this, &LensPanel::search);
    connect(&session, &Session::takeChanged, this, [this](const SeenChange &what) {
        if (what.parts.prepare || what.parts.geometry)
            refresh();
    });
    connect(&session, &Session::photoChanged, this, [this] {
        m_asking.request_stop();
        m_name->clear();
        m_problem.clear();
        refresh();
    });
    refresh();
}

void LensPanel::addButtons()
{
    auto *row = new QHBoxLayout;
    row->setSpacing(5);
    const auto add = [&](const QString &name, const char *id, const QString &help) {
        QToolButton *button = makeSignButton(name, id, help, this);
        row->addWidget(button);
        return button;
    };
    connect(add(tr("By the photo"), "lensByPhoto",
                tr("The lens that the photo says it was taken with")),
            &QToolButton::clicked, this, [this] { take({}); });
    m_without = add(tr("No profile"), "lensNone", tr("Only what is set by hand"));
    connect(m_without, &QToolButton::clicked, this,
            [this] { setProfile({}, tr("No lens profile")); });
    static_cast<QVBoxLayout *>(layout())->addLayout(row);
}

void LensPanel::addField()
{
    m_name = new QLineEdit(this);
    m_name->setObjectName(QStringLiteral("lensName"));
    m_name->setPlaceholderText(tr("Or type a lens, e.g. 50mm f/1.8"));
    m_name->setAccessibleName(tr("Lens"));
    m_name->setToolTip(tr("Words of its name; then choose from the list"));
    m_found = new QStringListModel(this);
    m_names = new QCompleter(m_found, this);
    m_names->setCompletionMode(QCompleter::UnfilteredPopupCompletion);
    m_name->setCompleter(m_names);
    connect(m_name, &QLineEdit::textEdited, this, [this] { m_typing.start(); });
    connect(m_name, &QLineEdit::returnPressed, this, [this] {
        if (!m_name->text().trimmed().isEmpty())
            take(m_name->text().trimmed());
    });
    connect(m_names, QOverload<const QString &>::of(&QCompleter::activated), this,
            [this](const QString &name) { take(name); });
    layout()->addWidget(m_name);
}

void LensPanel::search()
{
    m_asking.request_stop();
    const QString text = m_name->text();
    constexpr int kLeastLetters = 2;
    if (text.size() < kLeastLetters)
        return;
    m_asking = m_jobs.start(
        tr("Looking for lenses…"),
        [text](const Run &) {
            constexpr size_t kMost = 40;
            return LensLibrary::system().search(text.toStdString(), kMost);
        },
        [this, text, guard = QPointer<LensPanel>(this)](const auto &names) {
            if (!guard || m_name->text() != text)
                return;
            QStringList all;
            for (const std::string &name : names)
                all += QString::fromStdString(name);
            m_found->setStringList(all);
            if (m_name->hasFocus() && !all.isEmpty())
                m_names->complete();
        });
}

void LensPanel::take(const QString &name)
{
    if (!m_session.hasPhoto())
        return;
    m_typing.stop();
    m_asking.request_stop();
    m_asking = m_jobs.start(
        tr("Looking for the lens…"),
        [levels = m_session.levels(), name = name.toStdString()](const Run &) {
            const Photo &photo = levels->photo();
            const LensLibrary &all = LensLibrary::system();
            const TakenWith with = photo.metadata.takenWith();
            if (name.empty())
                return std::pair(levels,
                                 std::optional(all.profileFor(with, photo.width, photo.height)));
            auto named = all.profileNamed(name, with, photo.width, photo.height);
            if (const auto like = named ? std::vector<std::string>() : all.search(name, 1);
                !like.empty())
                named = all.profileNamed(like.front(), with, photo.width, photo.height);
            return std::pair(levels, std::optional(named));
        },
        [this, guard = QPointer<LensPanel>(this)](const auto &answer) {
            if (!guard || answer.first != m_session.levels())
                return;
            const auto &profile = *answer.second;
            if (!profile) {
                const Error &error = profile.error();
                return say(QString::fromStdString(
                    error.subject == "lens" ? error.detail : error.subject + ": " + error.detail));
            }
            setProfile(*profile, tr("Lens"));
        });
}

void LensPanel::setProfile(const LensProfile &profile, const QString &text)
{
    if (!m_session.hasPhoto())
        return;
    m_problem.clear();
    Take take = m_session.work().take();
    const auto made = std::make_shared<const Lens>(profile, lensOf(take).amounts());
    const Photo &photo = m_session.levels()->photo();
    m_session.edit(ofPrepare(text),
                   withFilledCrop(withPrepared(std::move(take), made), photo.width, photo.height));
    refresh();
}

void LensPanel::say(const QString &problem)
{
    m_problem = problem.isEmpty() ? problem : problem.at(0).toUpper() + problem.mid(1) + u'.';
    refresh();
}

void LensPanel::refresh()
{
    const LensProfile &profile =
        m_session.hasPhoto() ? lensOf(*m_session.take()).profile() : LensProfile();
    const QString name = QString::fromStdString(profile.name);
    QStringList lacks;
    if (profile.distortion.isNone())
        lacks += tr("distortion");
    if (profile.vignetting.isNone())
        lacks += tr("dark corners");
    if (profile.red.isNone() && profile.blue.isNone())
        lacks += tr("fringes");
    QString used = name.isEmpty() ? tr("No profile is used.") : tr("Uses: %1.").arg(name);
    if (!name.isEmpty() && !lacks.isEmpty())
        used += tr(" It knows nothing of %1.").arg(lacks.join(tr(" and ")));
    m_used->setText(m_problem.isEmpty() ? used : m_problem);
    m_without->setEnabled(!name.isEmpty());
}

} // namespace buttonhole::app
