#include "app/board/preview_bar.h"

#include "app/look/tokens.h"

#include <QActionGroup>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QRegularExpression>
#include <QStyleFactory>
#include <QWidgetAction>

namespace pipit::app
{

PreviewBar::PreviewBar(PreviewView *view, QWidget *parent) : QWidget(parent), view_(view)
{
    button_ = new QPushButton("Shown as designed");
    button_->setProperty("word", true);
    button_->setAccessibleName("Preview options");
    button_->setFixedHeight(scaled(24));
    menu_ = new QMenu(button_);
    add("In dark colours", [](PreviewView::Options &o, bool on) { o.dark = on; });
    add("From right to left", [](PreviewView::Options &o, bool on) { o.rightToLeft = on; });
    add("With texts 40 % longer", [](PreviewView::Options &o, bool on) { o.longer = on; });
    add("With type at 150 %", [](PreviewView::Options &o, bool on) { o.scale = on ? 1.5 : 1; });
    addStyles();
    addSize();
    connect(button_, &QPushButton::clicked, menu_,
            [this] { menu_->popup(button_->mapToGlobal(QPoint(0, button_->height()))); });
    connect(view, &PreviewView::optionsChanged, this, &PreviewBar::say);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(2, 0, 6, 0);
    layout->addWidget(button_);
    layout->addStretch();
}

void PreviewBar::add(const QString &text, const Change &change)
{
    QAction *a = menu_->addAction(text);
    a->setCheckable(true);
    connect(a, &QAction::toggled, this, [this, change](bool on) {
        PreviewView::Options o = view_->options();
        change(o, on);
        view_->setOptions(o);
    });
}

// Those that the toolkit has here, one of them at a time or none.
void PreviewBar::addStyles()
{
    auto *group = new QActionGroup(menu_);
    group->setExclusionPolicy(QActionGroup::ExclusionPolicy::ExclusiveOptional);
    menu_->addSeparator();
    for (const QString &style : QStyleFactory::keys()) {
        add(QStringLiteral("In the style %1").arg(style), [style](PreviewView::Options &o, bool on) {
            if (on)
                o.style = style;
            else if (o.style == style)
                o.style.clear();
        });
        group->addAction(menu_->actions().last());
    }
}

void PreviewBar::addSize()
{
    menu_->addSeparator();
    // Return is its own: what it does not take, the menu would take for its first entry.
    class SizeLine : public QLineEdit
    {
    protected:
        void keyPressEvent(QKeyEvent *event) override
        {
            QLineEdit::keyPressEvent(event);
            if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
                event->accept();
        }
    };
    auto *line = new SizeLine;
    line->setObjectName("previewSize");
    line->setPlaceholderText("Size: 1024x640");
    line->setAccessibleName("Size of the preview, such as 1024x640; leave empty for the window's own size");
    auto *action = new QWidgetAction(menu_);
    action->setDefaultWidget(line);
    menu_->addAction(action);
    connect(line, &QLineEdit::returnPressed, this, [this, line] {
        static const QRegularExpression form("^(\\d{2,4}) ?[x×] ?(\\d{2,4})$");
        const auto m = form.match(line->text().trimmed());
        if (!m.hasMatch() && !line->text().trimmed().isEmpty()) {
            line->selectAll();
            line->setToolTip("Type width and height, such as 1024x640");
            return;
        }
        PreviewView::Options o = view_->options();
        o.size = m.hasMatch() ? QSize(m.captured(1).toInt(), m.captured(2).toInt()) : QSize();
        view_->setOptions(o);
        menu_->close();
    });
}

void PreviewBar::say()
{
    const PreviewView::Options &o = view_->options();
    QStringList words;
    for (const auto &[on, word] :
         {std::pair{o.dark, "dark"}, {o.rightToLeft, "mirrored"}, {o.longer, "longer"}})
        if (on)
            words << word;
    if (o.scale != 1)
        words << "at 150 %";
    if (!o.style.isEmpty())
        words << o.style;
    if (!o.size.isEmpty())
        words << QStringLiteral("%1x%2").arg(o.size.width()).arg(o.size.height());
    button_->setText(words.isEmpty() ? QString("Shown as designed") : "Shown " + words.join(", "));
}

} // namespace pipit::app
