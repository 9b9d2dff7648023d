#include "base/file_name.h"

#include "base/clean_text.h"

namespace uc::app {
namespace {

constexpr char16_t first_byte = 0xDC80; // stands for the byte 0x80, and so on to 0xFF

bool is_byte(const QString& text, qsizetype i) {
  const char16_t c = text[i].unicode();
  if (c < first_byte || c > first_byte + 0x7F) return false;
  return i == 0 || !text[i - 1].isHighSurrogate();
}

} // namespace

std::string bytes_of(const QString& name) {
  std::string out;
  qsizetype from = 0;
  for (qsizetype i = 0; i < name.size(); ++i) {
    if (!is_byte(name, i)) continue;
    out += name.mid(from, i - from).toStdString();
    out += static_cast<char>(name[i].unicode() - first_byte + 0x80);
    from = i + 1;
  }
  return out + name.mid(from).toStdString();
}

QString name_of_bytes(const std::string& bytes) {
  QString out;
  for (std::size_t i = 0; i < bytes.size();) {
    // The longest run that is valid text; what does not come back the same is taken byte by byte.
    std::size_t length = 1;
    const auto lead = static_cast<unsigned char>(bytes[i]);
    if (lead >= 0xF0)
      length = 4;
    else if (lead >= 0xE0)
      length = 3;
    else if (lead >= 0xC0)
      length = 2;
    const std::string piece = bytes.substr(i, length);
    const QString text = QString::fromStdString(piece);
    if (lead < 0x80 || (!text.contains(QChar::ReplacementCharacter) && text.toStdString() == piece)) {
      out += text;
      i += piece.size();
    } else {
      out += QChar(static_cast<char16_t>(first_byte + (lead - 0x80)));
      ++i;
    }
  }
  return out;
}

QString shown(const std::string& text) { return QString::fromStdString(shown_text(text)); }
QString shown(const QString& text) { return shown(text.toStdString()); }
QString shown_name(const QString& name) { return shown(bytes_of(name)); }

} // namespace uc::app
