# frozen_string_literal: true

module Yenvo
  module Core
    # Codes in notes, such as !haul. A code stands as its own word and its capitals count. What is quoted from an older
    # note (lines that begin with ">", as in RFC 3676, section 4.5) has none.
    module Codes
      FORM = /\A![[:alnum:]](?:[[:alnum:]_-]{0,38}[[:alnum:]])?\z/
      MAX = 50
      WORD = /(?<=\A|[\s(\[{"'„“‘«,;:])(![[:alnum:]](?:[[:alnum:]_-]{0,38}[[:alnum:]])?)(?=\z|[\s)\]}"'”’».,;:!?…])/
      QUOTED = /^[ \t]*>.*$/
      private_constant :WORD, :QUOTED

      module_function

      # @param text [String, nil]
      # @return [Array<String>]
      def in(text) = text.to_s.gsub(QUOTED, "").scan(WORD).flatten.uniq.first(MAX)

      # @param event [Event]
      # @return [Array<String>] codes that a note brings; of an edited note only those that it had not before
      def of(event)
        case event.what
        when "interaction_logged"
          (event.detail["way"] == "note") ? self.in(event.detail["text"]) : []
        when "note_edited"
          if event.detail.fetch("way", "note") == "note"
            self.in(event.detail["text"]) - self.in(event.detail["was"])
          else
            []
          end
        else
          []
        end
      end
    end
  end
end
