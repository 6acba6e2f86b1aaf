# frozen_string_literal: true

require "uri"

module Yenvo
  module Core
    # Reads a form from its plain form, as the set-up keeps it, and says all that is wrong with it. What it asks for
    # that there is no more is left out of the form and said.
    class FormReader
      include FixedValues

      MOST_ITEMS = 60
      MOST_ORIGINS = 20
      LONGEST_LABEL = 200
      LONGEST_HELP = 500

      # @param plain [Hash] see docs/forms.md
      # @param schema [Schema]
      # @return [Array(Form, Array<Problem>)] nil where there is no such kind
      def self.read(plain, schema) = new(plain, schema).read

      def initialize(plain, schema)
        @plain = plain
        @schema = schema
        @problems = []
        @person = schema.kind(Form::PERSON)
      end

      def read
        @kind = @schema.kind(@plain["kind"].to_s)
        return [nil, [Problem.at(["kind"], "must be a kind of record; choose one")]] unless @kind

        form = Form.new(kind: @kind, person: @person, link:, items:, fixed:, words:, origins:)
        whole(form)
        [form, @problems]
      end

      private

      def wrong(path, text) = (@problems << Problem.at(Array(path), text)) && nil

      def link
        key = @plain["contact"].to_s
        return if key.empty?

        field = @kind.field(key)
        return field if field && @person && field.leads_to?(@person) && !field.worked_out?

        wrong("contact", "must be a link of #{@kind.plural} to a contact; #{Show.quoted(key)} is none")
      end

      def items
        given = Array(@plain["items"])
        wrong("items", "must be at most #{MOST_ITEMS}; this has #{given.size}") if given.size > MOST_ITEMS
        asked = Set.new
        given.first(MOST_ITEMS).each_with_index.filter_map do |one, at|
          path = ["items", at, "ask"]
          next wrong(path, "must be asked once; it is asked above already") unless asked.add?(one["ask"])

          item(one, path)
        end
      end

      def item(one, path)
        ask = one["ask"].to_s
        field = (ask == FormItem::FILES) ? nil : asked_field(ask, path) || return
        label = trim(one["label"], LONGEST_LABEL, [*path[0, 2], "label"]) || field&.label || "Files"
        help = trim(one["help"], LONGEST_HELP, [*path[0, 2], "help"])
        FormItem.new(ask:, label:, help:, required: one["required"] == true, field: field&.with(label:))
      end

      def asked_field(ask, path)
        contact = ask.start_with?(FormItem::CONTACT)
        kind = contact ? @person : @kind
        field = kind&.field(ask.delete_prefix(FormItem::CONTACT))
        plural = kind&.plural || "a contact"
        return wrong(path, "must be a field of #{plural}; #{Show.quoted(ask)} is none") unless field

        problem = not_asked(field)
        problem ? wrong(path, problem) : field
      end

      # @return [String, nil] why visitors cannot fill it in
      def not_asked(field)
        return if field.key == "title"
        return "must be a field that people fill in; #{field.label} is kept by Yenvo" if kept?(field)
        return if FormItem::TYPES.include?(field.type)

        "must be a field that visitors can fill in; #{field.label} takes a #{field.type_words} of the house"
      end

      def words
        Form::TEXTS.to_h { |name, most| [name, word(name, most)] }
      end

      def word(name, most) = trim(@plain[name], most, name) || Form::USUAL[name]

      def trim(text, most, path)
        text = Reading.trim(text.to_s.gsub("\r\n", "\n"))
        return if text.empty?
        return text if text.size <= most

        wrong(path, "must have at most #{Show.count(most)} characters; this has #{Show.count(text.size)}")
      end

      def origins
        given = Array(@plain["origins"])
        wrong("origins", "must be at most #{MOST_ORIGINS}") if given.size > MOST_ORIGINS
        given.first(MOST_ORIGINS).each_with_index.filter_map do |one, at|
          origin(one.to_s.strip.delete_suffix("/")) || wrong(["origins", at], NO_ORIGIN)
        end
      end

      NO_ORIGIN = "must be the beginning of an address, such as https://www.example.org, without a path"
      private_constant :NO_ORIGIN

      # An origin as RFC 6454 writes it; nothing else may get into the header that it stands in.
      def origin(text)
        uri = URI.parse(text)
        text if uri.is_a?(URI::HTTP) && uri.host && uri.path.empty? && text.match?(%r{\Ahttps?://[a-z0-9.:\[\]-]+\z}i)
      rescue URI::InvalidURIError
        nil
      end

      # What it lacks as a whole.
      def whole(form)
        wrong("heading", "must have a few words") unless form.words["heading"]
        wrong("items", "must ask something") if form.items.empty?
        of_contact(form)
        required(@kind, "fixed", asked(form, false) + form.fixed.keys + [form.link&.key])
        required(@person, "contact", asked(form, true)) if form.link
        twice = form.fixed.keys & asked(form, false)
        twice.each { |key| wrong(["fixed", key], "must not be asked as well; take one of the two away") }
      end

      def of_contact(form)
        asks, itself = form.items.any?(&:contact?), form.of_contact?
        return wrong("items", "must ask fields of the contact as its own, since it makes a contact") if asks && itself
        return wrong("contact", "must be a link to the contact, since the form asks about one") if asks && !form.link
        return if form.finder || !(form.link || itself)

        wrong("items", "must ask an e-mail of the contact, by which it is found")
      end

      def asked(form, contact) =
        form.items.select { |item| item.field && item.contact? == contact && (item.required || item.key == "title") }
          .map(&:key)

      # A record that lacks what every one of its kind has to have would be refused each time.
      def required(kind, path, given)
        needed = kind.own_fields.select { |field| field.required && field.default.nil? }
        lacks = needed.reject { |field| given.include?(field.key) }
        return if lacks.empty?

        names = lacks.map(&:label).join(", ")
        wrong(path, "must fill in #{names}, which every #{kind.noun} has to have; ask it as needed, or say what it is")
      end
    end
  end
end
