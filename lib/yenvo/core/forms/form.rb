# frozen_string_literal: true

module Yenvo
  module Core
    # What visitors are asked, and what it makes: a record of a kind and, where it asks an e-mail, the contact, which is
    # found by that or made. kind: Schema::Kind; person: Schema::Kind of contacts, nil where there is none; items: Array
    # of FormItem, in order; link: Schema::Field that leads to the contact, or nil; fixed: Hash of fields to plain
    # values that nobody is asked; words: Hash of heading, intro, button, consent, thanks and closed; origins: Array of
    # those whose pages may show it.
    Form =
      Value.define(:kind, :person, :items, :link, :fixed, :words, :origins) do
        # @return [FormItem, nil] the e-mail by which a contact is found
        def finder = items.find { |item| item.type == "email" && (of_contact? || item.contact?) }

        # @return [Boolean] whether what it makes is itself the contact
        def of_contact? = kind.key == person&.key

        # @return [Boolean] whether it asks for files
        def files? = items.any?(&:files?)

        # @return [Set<String>] what it leans on in the set-up, as in Uses
        def uses
          all = Set["kind #{kind.key}"]
          items.each { |item| item.field && all << "field #{(item.contact? ? person : kind).key} #{item.key}" }
          all << "field #{kind.key} #{link.key}" if link
          all | fixed_uses(kind, fixed)
        end

        include FixedValues

        # @param given [Hash{String => String, Array<String>}] what a visitor sent, by +ask+
        # @return [Array(FormAnswer, Hash{String => String})] what it comes to, and what is wrong by +ask+
        def read(given, schema)
          problems = {}
          values =
            items.reject(&:files?).to_h do |item|
              [item, item.read(given[item.ask], schema)]
            rescue Unreadable => error
              problems[item.ask] = error.message
              [item, nil]
            end
          [FormAnswer.of(self, values.compact), problems]
        end
      end

    Form::TEXTS = {
      "heading" => 120, "intro" => 2_000, "button" => 40, "consent" => 1_000, "thanks" => 2_000, "closed" => 2_000
    }.freeze
    Form::USUAL = {
      "button" => "Send", "thanks" => "Thank you. What you wrote has arrived, and somebody will look at it.",
      "closed" => "This form is closed just now."
    }.freeze
    Form::PERSON = "contact"
  end
end
