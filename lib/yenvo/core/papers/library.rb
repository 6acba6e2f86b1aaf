# frozen_string_literal: true

module Yenvo
  module Core
    module Papers
      # Where versions of texts and papers lie, which never change once they are there; here of none. What stands in its
      # place reads them from wherever they are kept.
      class Library
        # @param texts [Hash] "subject" and "text" by key and number
        # @param papers [Hash] form and body by key and number
        def initialize(texts: {}, papers: {})
          @texts = texts
          @papers = papers
        end

        # @return [Hash{String => String}, nil] "subject" and "text"
        def text(key, number) = @texts[[key, number]]

        # @return [Array(String, String), nil] one of FORMS, and Markdown or the bytes of a document; one version may be
        #   of another form than the next
        def paper(key, number) = @papers[[key, number]]
      end
    end
  end
end
