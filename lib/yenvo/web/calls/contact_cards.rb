# frozen_string_literal: true

module Yenvo
  module Web
    # Contacts as vCard 4.0 (RFC 6350): name, e-mails, phones and web addresses; all other fields as a note each. Page
    # by page, as TableOut.
    class ContactCards
      TYPE = "text/vcard; charset=utf-8"
      # By the type of a field, the property that it is.
      PROPERTIES = {"email" => "EMAIL", "phone" => "TEL", "url" => "URL"}.freeze
      # Octets of a line, without its end (RFC 6350, 3.2).
      WIDE = 75

      # @param kind [Core::Schema::Kind] of contacts
      # @yieldparam place [Object, nil] where to go on
      # @yieldreturn [Array(Array<Hash>, Array<Array>, Object)] images, the cells of each by field, and where to go on
      def initialize(kind, &page)
        @kind = kind
        @page = page
      end

      # Rack.
      # @yieldparam text [String]
      def each
        place = nil
        loop do
          images, cells, place = @page.call(place)
          yield images.zip(cells).map { |image, row| card(image, row) }.join if images.any?
          break unless place
        end
      end

      # @return [String] what stands between other values, such that it is one (RFC 6350, 3.4)
      def self.escape(text) = text.to_s.gsub(/[\\,;]/) { |sign| "\\#{sign}" }.gsub(/\r?\n/, "\\n")

      # A line of at most 75 octets; what is longer goes on in the next, behind a blank. No letter is cut in two.
      def self.fold(line)
        parts = [+""]
        line.each_char do |letter|
          parts << +" " if parts.last.bytesize + letter.bytesize > WIDE
          parts.last << letter
        end
        "#{parts.join("\r\n")}\r\n"
      end

      private

      def card(image, row)
        lines = ["BEGIN:VCARD", "VERSION:4.0", "UID:urn:yenvo:contact:#{image["id"]}", *named(image["title"])]
        @kind.own_fields.zip(row) { |field, text| lines << property(field, text) unless text.to_s.empty? }
        lines << "REV:#{Core::Reading.time(image["changed"]).strftime("%Y%m%dT%H%M%SZ")}" << "END:VCARD"
        lines.map { |line| self.class.fold(line) }.join
      end

      # Which part of a name is which, nobody has said; it stands as it is written.
      def named(title) = ["FN:#{escape(title)}", "N:#{escape(title)};;;;"]

      def property(field, text)
        name = PROPERTIES[field.type] or return "NOTE:#{escape("#{field.label}: #{text}")}"
        return "TEL;VALUE=text:#{escape(text)}" if name == "TEL"

        "#{name}:#{(name == "URL") ? text : escape(text)}"
      end

      def escape(text) = self.class.escape(text)
    end
  end
end
