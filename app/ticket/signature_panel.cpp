#include "ticket/signature_panel.h"

#include "commands/number_words.h"
#include "controls/file_dialog.h"
#include "controls/sign_button.h"
#include "document/finish_starts.h"
#include "io/file.h"
#include "lettering/lettering.h"

#include <QCheckBox>
#include <QFontComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPointer>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

namespace
{

size_t numberOf(const char *id)
{
    const auto rows = SignaturePlace::rows();
    return size_t(&paramNamed(rows, id) - rows.data());
}

/// Family and style of a font as they are worded in a take: "Inter Bold Italic".
struct FontWords {
    QString family;
    bool isBold = false;
    bool isItalic = false;

    static FontWords from(const std::string &words)
    {
        FontWords out{QString::fromStdString(words)};
        const auto takeOff = [&](const QString &style) {
            const bool has = out.family.endsWith(u' ' + style);
            if (has)
                out.family.chop(style.size() + 1);
            return has;
        };
        out.isItalic = takeOff(QStringLiteral("Italic"));
        out.isBold = takeOff(QStringLiteral("Bold"));
        if (out.family.isEmpty())
            out.family = QStringLiteral("Inter");
        return out;
    }
    std::string words() const
    {
        return (family + (isBold ? QStringLiteral(" Bold") : QString()) +
                (isItalic ? QStringLiteral(" Italic") : QString()))
            .toStdString();
    }
};

} // namespace

SignaturePanel::SignaturePanel(Session &session, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_jobs(jobs)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 2);
    layout->setSpacing(8);
    addWords(*layout);
    auto *row = new QHBoxLayout;
    row->setSpacing(14);
    auto *places = new QVBoxLayout;
    auto *inks = new QVBoxLayout;
    addPlaces(*places);
    addInks(*inks);
    row->addLayout(places);
    row->addLayout(inks, 1);
    layout->addLayout(row);
}

void SignaturePanel::addWords(QVBoxLayout &layout)
{
    m_text = new QLineEdit(this);
    m_text->setObjectName(QStringLiteral("signatureText"));
    m_text->setPlaceholderText(tr("Text to sign with"));
    m_text->setAccessibleName(tr("Text of the signature"));
    m_text->setMaxLength(int(Signature::kMostLetters) / 4);
    connect(m_text, &QLineEdit::textEdited, this, [this](const QString &text) {
        if (const auto now = signature())
            setWords({text.toStdString(), now->words().font, {}}, tr("Text of the signature"),
                     QStringLiteral("signature-%1").arg(m_session.line().lineId));
    });
    connect(m_text, &QLineEdit::editingFinished, this, [this] { m_session.endMerge(); });
    layout.addWidget(m_text);

    auto *row = new QHBoxLayout;
    row->setSpacing(5);
    m_family = new QFontComboBox(this);
    m_family->setObjectName(QStringLiteral("signatureFont"));
    m_family->setAccessibleName(tr("Font of the signature"));
    m_family->setFontFilters(QFontComboBox::ScalableFonts);
    m_family->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    connect(m_family, &QFontComboBox::currentFontChanged, this, &SignaturePanel::setFont);
    row->addWidget(m_family, 1);
    const auto add = [&](const QString &name, const char *id, const QString &help) {
        QToolButton *button = makeSignButton(name, id, help, this);
        button->setCheckable(true);
        button->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
        connect(button, &QToolButton::clicked, this, &SignaturePanel::setFont);
        row->addWidget(button);
        return button;
    };
    m_bold = add(tr("Bold"), "signatureBold", tr("Heavier letters"));
    m_italic = add(tr("Italic"), "signatureItalic", tr("Slanted letters"));
    layout.addLayout(row);

    m_drawing = makeSignButton({}, "signatureDrawing",
                               tr("Signs with a PNG or SVG file instead of the text"), this);
    connect(m_drawing, &QToolButton::clicked, this, [this] {
        const auto now = signature();
        if (now && !now->words().drawing.empty())
            setWords({now->words().text, now->words().font, {}}, tr("Signature by its text"));
        else
            askForDrawing();
    });
    layout.addWidget(m_drawing);
    m_problem = new QLabel(this);
    m_problem->setObjectName(QStringLiteral("signatureProblem"));
    m_problem->setWordWrap(true);
    m_problem->setTextFormat(Qt::PlainText);
    m_problem->hide();
    layout.addWidget(m_problem);
}

/// Nine points, as they lie on the picture.
void SignaturePanel::addPlaces(QVBoxLayout &layout)
{
    static const char *const kNames[9] = {
        QT_TR_NOOP("Above, left"), QT_TR_NOOP("Above"),         QT_TR_NOOP("Above, right"),
        QT_TR_NOOP("Left"),        QT_TR_NOOP("In the middle"), QT_TR_NOOP("Right"),
        QT_TR_NOOP("Below, left"), QT_TR_NOOP("Below"),         QT_TR_NOOP("Below, right")};
    auto *grid = new QGridLayout;
    grid->setSpacing(3);
    for (int i = 0; i < 9; ++i) {
        auto *button = new QToolButton(this);
        button->setObjectName(QStringLiteral("signaturePlace%1").arg(i));
        button->setCheckable(true);
        button->setFixedSize(24, 18);
        button->setProperty("sign", true);
        button->setToolTip(tr(kNames[i]));
        button->setAccessibleName(tr(kNames[i]));
        connect(button, &QToolButton::clicked, this, [this, i] {
            const auto now = signature();
            if (!now)
                return;
            auto made = now->withNumber(numberOf("across"), float(i % 3) / 2);
            made = made->withNumber(numberOf("down"), float(i / 3) / 2);
            m_session.edit(tr("Place of the signature"), withFinished(*m_session.take(), made));
        });
        grid->addWidget(button, i / 3, i % 3);
        m_places[size_t(i)] = button;
    }
    layout.addLayout(grid);
    layout.addStretch();
}

void SignaturePanel::addInks(QVBoxLayout &layout)
{
    m_byGround = addInk(layout, "byGround", tr("Ink by what is under it"),
                        tr("Light on dark parts of the picture, dark on light ones"));
    m_ownColours =
        addInk(layout, "ownColours", tr("The drawing's colours"), tr("Instead of one ink"));
    layout.addStretch();
}

QCheckBox *SignaturePanel::addInk(QVBoxLayout &layout, const char *number, const QString &name,
                                  const QString &help)
{
    auto *box = new QCheckBox(name, this);
    box->setObjectName(QLatin1String(number));
    box->setToolTip(help);
    connect(box, &QCheckBox::clicked, this,
            [this, number, name](bool on) { setNumber(number, on ? 1.0F : 0.0F, name); });
    layout.addWidget(box);
    return box;
}

std::shared_ptr<const Signature> SignaturePanel::signature() const
{
    const AdjustmentLine *line = m_session.hasPhoto() ? m_session.adjustment() : nullptr;
    return line ? std::dynamic_pointer_cast<const Signature>(line->adjustment) : nullptr;
}

void SignaturePanel::setWords(const SignatureWords &words, const QString &move,
                              const QString &mergeKey)
{
    say({});
    if (const auto fine = checkWords(words); !fine)
        return say(
            tr("That cannot be signed with: %1.").arg(QString::fromStdString(fine.error().detail)));
    if (const auto now = signature(); now && !(now->words() == words))
        m_session.edit(move, withSignature(*m_session.take(), words), mergeKey);
}

void SignaturePanel::setFont()
{
    const auto now = signature();
    if (!now)
        return;
    const FontWords font{m_family->currentFont().family(), m_bold->isChecked(),
                         m_italic->isChecked()};
    setWords({now->words().text, font.words(), now->words().drawing}, tr("Font of the signature"));
}

void SignaturePanel::setNumber(const char *id, float value, const QString &move)
{
    if (const auto now = signature())
        m_session.edit(move, withFinished(*m_session.take(), now->withNumber(numberOf(id), value)));
}

void SignaturePanel::askForDrawing()
{
    auto *dialog =
        newFileDialog(window(), tr("A drawing to sign with"), {}, tr("Drawings (*.png *.svg)"));
    dialog->setObjectName(QStringLiteral("drawingDialog"));
    dialog->setFileMode(QFileDialog::ExistingFile);
    connect(dialog, &QFileDialog::fileSelected, this, &SignaturePanel::takeDrawing);
    dialog->open();
}

void SignaturePanel::takeDrawing(const QString &path)
{
    struct Read {
        Result<std::string> bytes = Error{ErrorKind::Io, {}, {}};
    };
    m_jobs.start(
        tr("Reading the drawing…"),
        [path = path.toStdString()](const Run &) {
            Read out;
            const auto bytes = readStream(path, Signature::kMostDrawing);
            if (!bytes) {
                out.bytes = bytes.error();
                return out;
            }
            std::string all(bytes->begin(), bytes->end());
            const auto drawing = drawingOfPicture(all);
            if (drawing)
                out.bytes = std::move(all);
            else
                out.bytes = Error{drawing.error().kind, path, drawing.error().detail};
            return out;
        },
        [this, guard = QPointer<SignaturePanel>(this),
         line = m_session.line().lineId](const Read &read) {
            const auto now = guard ? signature() : nullptr;
            if (!now || m_session.line().lineId != line)
                return;
            if (!read.bytes)
                return say(QString::fromStdString(sentence(read.bytes.error())));
            setWords({now->words().text, now->words().font, *read.bytes},
                     tr("Signature by a drawing"));
        });
}

void SignaturePanel::startTyping()
{
    m_text->setFocus();
    m_text->selectAll();
}

void SignaturePanel::say(const QString &problem)
{
    m_problem->setText(problem);
    m_problem->setVisible(!problem.isEmpty());
}

void SignaturePanel::refresh()
{
    const auto now = signature();
    if (!now)
        return;
    const SignatureWords &words = now->words();
    const bool isDrawn = !words.drawing.empty();
    if (const QString text = QString::fromStdString(words.text); m_text->text() != text)
        m_text->setText(text);
    const FontWords font = FontWords::from(words.font);
    const QSignalBlocker quiet(m_family);
    m_family->setCurrentFont(QFont(font.family));
    m_bold->setChecked(font.isBold);
    m_italic->setChecked(font.isItalic);
    for (QWidget *each : {static_cast<QWidget *>(m_text), static_cast<QWidget *>(m_family),
                          static_cast<QWidget *>(m_bold), static_cast<QWidget *>(m_italic)})
        each->setEnabled(!isDrawn);
    m_drawing->setText(isDrawn ? tr("Sign with the text again") : tr("Sign with a drawing…"));
    m_byGround->setChecked(now->place().byGround >= 0.5F);
    m_ownColours->setChecked(now->place().ownColours >= 0.5F);
    m_ownColours->setEnabled(isDrawn);
    for (int i = 0; i < 9; ++i)
        m_places[size_t(i)]->setChecked(now->place().across == float(i % 3) / 2 &&
                                        now->place().down == float(i / 3) / 2);
}

} // namespace buttonhole::app
