# frozen_string_literal: true

module Yenvo
  module Core
    class Schema
      # A text or a paper of the set-up that rules take, which is kept in versions. key: a short handle; name: as people
      # know it; kind: key of the kind of record it is filled in from, "record" for any; number: of its newest version;
      # form: of a paper, one of Papers::FORMS.
      Kept =
        Value.define(:key, :name, :kind, :number, form: nil) do
          # @param pin [Hash] "key", and "version" where a rule keeps one
          # @return [Integer] of the version that a rule takes
          def version(pin) = pin["newest"] ? number : pin["version"] || number

          # @param kind [Schema::Kind] of a rule
          # @return [Boolean] whether rules about such records can take it
          def for?(kind) = [kind.key, Subjects::RECORD].include?(self.kind)
        end
    end
  end
end
