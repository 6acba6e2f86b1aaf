# frozen_string_literal: true

module Yenvo
  module Store
    # What all forms of the set-up read alike: words, lists of choices, and the keys that are made of words.
    module FormWords
      # The most that there can be.
      MOST = {fields: 120, choices: 200, stages: 60, lists: 100}.freeze

      include Refusing

      private

      # @param name [String] of the place in the form
      # @return [String]
      def text(value, name, label, most = 60)
        words = Core::Reading.trim(value.to_s.gsub(/[\p{Cf}[:cntrl:]]/, ""))
        refuse(name, "#{label} takes a few words.") if words.empty?
        refuse(name, "#{label} takes at most #{most} characters.") if words.size > most
        words
      end

      # @param place [String] of the form
      # @return [String] the address with which somebody signs in
      def email(value, place)
        address = value.to_s.strip
        return address if Core::Reading::EMAIL.match?(address) && address.size <= 190

        refuse(place, "The e-mail takes an address such as name@example.org, to sign in with.")
      end

      PER_MINUTE = (1..10_000)

      # @return [Integer, nil] how many within a minute; nil for as many as there are
      def per_minute(given)
        return given if given.nil? || (given.is_a?(Integer) && PER_MINUTE.cover?(given))

        refuse("per_minute", "It takes a whole number from 1 to 10,000, or nothing.")
      end

      # Says all that is wrong with what is written in a sheet, each where it is.
      # @param problems [Array<Core::Problem>]
      # @raise [Refused]
      def refuse_problems(problems)
        return if problems.empty?

        said = problems.group_by { |one| one.path.join(".") }
        raise Refused.at(said.transform_values { |some| some.map { |one| "#{one.where} #{one.text}." }.join(" ") })
      end

      # @return [String, nil] a phone number; nil for none
      def phone(value)
        number = value.to_s.strip
        return if number.empty?

        good = Core::Reading::PHONE.match?(number) && number.size <= 60
        good ? number : refuse("phone", "The phone takes a number such as +353 555 0147, or nothing.")
      end

      # @param given [Array<Hash>] key (nil for a new one) and label, in order
      # @return [Array<Array(String, String)>]
      def read_choices(given, name, label, most)
        refuse(name, "#{label} must be a list.") unless given.is_a?(Array)
        refuse(name, "#{label}: at most #{most}.") if given.size > most
        keys = given.filter_map { |one| one["key"] }
        plain =
          given.map do |one|
            words = text(one["label"], name, label)
            key = one["key"] || free_key(words, keys).tap { |made| keys << made }
            [key, words]
          end
        twice = plain.uniq(&:first).size < plain.size || plain.uniq { |_, words| words.downcase }.size < plain.size
        refuse(name, "#{label}: each stands once.") if twice
        plain
      end

      # @return [String] a key like the words that nothing has yet
      def free_key(words, taken)
        plain = words.unicode_normalize(:nfd).gsub(/\p{Mn}/, "").downcase.gsub(/[^a-z0-9]+/, "_")
        plain = plain.gsub(/\A[^a-z]+|_+\z/, "")[0, 50]
        plain = "field" if plain.empty?
        ([plain] + (2..taken.size + 3).map { |n| "#{plain}_#{n}" }).find { |key| !taken.include?(key) }
      end
    end
  end
end
